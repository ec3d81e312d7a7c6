import { type Person, type Route, type RouteName, routes } from '@jotmark/core';
import express, { type Express, type Request, type RequestHandler, type Response } from 'express';
import helmet from 'helmet';
import { Fault } from '../fault.ts';
import { allow, triesItOut } from '../people/access.ts';
import { countMessage, countUpload } from '../people/limits.ts';
import { needsStep, readSession, type SignedIn } from '../people/session.ts';
import { answerFaults } from './answer-faults.ts';
import { notTooMuch } from './body.ts';
import { Door } from './door.ts';
import type { Call, Parts } from './handler.ts';
import { makeHandlers } from './handlers.ts';
import { answersInTime, comesInTime } from './in-time.ts';
import { keepAct } from './keep-act.ts';
import { squeezed } from './squeezed.ts';
import { standIns, webApp } from './web-app.ts';

/** The whole server as an Express app: every route of the contract, then the built web app if there is one. */
export function makeApp(parts: Parts): Express {
  const { house } = parts;
  const app = express();
  app.disable('x-powered-by');
  // Answers are never cached (files bring their own tag), so no time is spent on hashing them.
  app.set('etag', false);
  app.set('query parser', 'simple');
  if (house.settings.secureCookies) app.set('trust proxy', 1);
  app.use(security(house.settings.secureCookies));
  app.use((_req, res, next) => {
    if (parts.stopping()) res.set('Connection', 'close');
    next();
  });
  app.use(comesInTime(house.settings.slowBodyMs));
  app.use(answersInTime(parts.pulse));
  app.use(squeezed());

  const handlers = makeHandlers(parts);
  const door = new Door();
  for (const name of Object.keys(routes) as RouteName[]) {
    const route: Route = routes[name];
    const handler = handlers[name] as (call: Call<RouteName>) => Promise<unknown>;
    const method = route.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
    // Who may call is decided before a byte of the body is read.
    app[method](
      route.path,
      admission(parts, door, route, name),
      ...bodyOf(route),
      async (req: Request, res: Response) => {
        const admitted = res.locals as Admitted;
        const call = {
          ...admitted,
          query: read(route.query, req.query),
          body: takesBody(route) ? read(route.body, req.body ?? {}) : {},
          person: admitted.signedIn?.person as Person,
          req,
          res,
        };
        const reply = await handler(call as Call<RouteName>);
        if (admitted.signedIn)
          // What was done is done: that it could not be noted down must not make it look as if it had failed.
          await keepAct(house, name, admitted.signedIn.person, call, reply).catch((error: unknown) =>
            house.log.error({ err: error, route: name }, 'an act could not be kept'),
          );
        if (ENDS_LINES.has(name)) void parts.lines.recheck();
        // Who waited too long for the database was told so already.
        if (reply === undefined || res.headersSent) return;
        if (house.settings.checkReplies) mustFit(route, name, reply);
        res.set('Cache-Control', 'no-store').json(reply);
      },
    );
  }
  if (house.settings.standInDir) app.use('/stand-in', standIns(house.settings.standInDir));
  app.use('/api', () => {
    throw new Fault('not-found');
  });
  if (house.settings.webDir) app.use(webApp(house.settings.webDir));
  app.use(answerFaults(house));
  return app;
}

interface Admitted {
  readonly params: Record<string, string>;
  readonly signedIn: SignedIn | null;
}

const takesBody = (route: Route): boolean => route.takes === 'json' && route.method !== 'GET';

/** Who may call at all: role, for changes the token that only our own pages know, and the rule of the route about this very thing. */
function admission(parts: Parts, door: Door, route: Route, name: RouteName): RequestHandler {
  return async (req, res, next) => {
    const signedIn = await readSession(parts.house, req);
    // Who has gone while they waited is asked nothing.
    const letIn = async () => (req.socket.destroyed ? null : admit(parts, route, name, req, res, signedIn));
    const params = await (signedIn ? door.through(signedIn.person.id, letIn) : letIn());
    if (!params) return;
    Object.assign(res.locals, { params, signedIn } satisfies Admitted);
    next();
  };
}

async function admit(
  { house, lines }: Parts,
  route: Route,
  name: RouteName,
  req: Request,
  res: Response,
  signedIn: SignedIn | null,
): Promise<Record<string, string>> {
  if (route.method !== 'GET' && !sameOrigin(req)) throw new Fault('stale-page');
  if (route.who !== 'anyone') {
    if (!signedIn) throw new Fault('not-signed-in');
    if (
      route.who !== 'person' &&
      route.who !== signedIn.person.role &&
      !(await triesItOut(house, signedIn.person, route.who, req.params))
    )
      throw new Fault('not-yours');
    if (route.method !== 'GET' && req.get('x-jotmark-token') !== signedIn.token)
      throw new Fault('stale-page');
    if (needsStep(house, signedIn) && !BEFORE_STEP.has(name)) throw new Fault('second-step-needed');
  }
  const params = read(route.params, req.params) as Record<string, string>;
  await allow(house, name, signedIn?.person ?? null, params);
  if (signedIn && route.takes === 'file') await countUpload(house, signedIn.person);
  if (signedIn && SAYS.has(name)) await countMessage(house, signedIn.person);
  if (LINES.has(name) && signedIn) {
    const { person, token } = signedIn;
    lines.admit(res, person.id, async () => {
      const now = await readSession(house, req);
      if (now?.token !== token) return false;
      return allow(house, name, now.person, params).then(
        () => true,
        (error: unknown) => {
          if (error instanceof Fault) return false;
          throw error;
        },
      );
    });
  }
  return params;
}

/** What others have to read. */
const SAYS: ReadonlySet<RouteName> = new Set<RouteName>(['say', 'sayToMany', 'answerRemark']);

/** Lines of hints that stay open. */
const LINES: ReadonlySet<RouteName> = new Set<RouteName>([
  'deskLive',
  'bankLive',
  'newsLive',
  'roomLive',
  'copyLive',
]);

/** After these somebody may hear less than before. Other servers see it at their next beat. */
const ENDS_LINES: ReadonlySet<RouteName> = new Set<RouteName>([
  'signOut',
  'endSession',
  'endOtherSessions',
  'changePassword',
  'newPasswords',
  'resetPerson',
  'mergePeople',
  'eraseStudent',
  'removeStudent',
  'removeTeacher',
  'archiveClass',
  'putAway',
  'moveMember',
]);

/** What is open to somebody of whom the school wants a second step and who has none yet. */
const BEFORE_STEP: ReadonlySet<RouteName> = new Set<RouteName>([
  'signOut',
  'changePassword',
  'account',
  // Who leaves takes with them what they did not send.
  'deviceKey',
  'startStep',
  'confirmStep',
]);

/** Browsers say where a request comes from; programs that say nothing carry no cookies of others. */
function sameOrigin(req: Request): boolean {
  const site = req.get('sec-fetch-site');
  if (site) return site === 'same-origin' || site === 'none';
  const origin = req.get('origin');
  return !origin || (URL.canParse(origin) && new URL(origin).host === req.get('host'));
}

/** What reads a body, as long as its route lets it be. */
function bodyOf(route: Route): RequestHandler[] {
  if (!takesBody(route)) return [];
  return [express.json({ limit: route.limit, verify: notTooMuch })];
}

function read(schema: Route['body'], value: unknown): unknown {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  throw new Fault('bad-input', { what: issue.path.join('.') || 'body', why: issue.message.slice(0, 200) });
}

/** In tests and development: an answer that its own route does not describe is a fault of ours, and is told as one. */
function mustFit(route: Route, name: RouteName, reply: unknown): void {
  const fits = route.reply.safeParse(JSON.parse(JSON.stringify(reply)));
  if (!fits.success)
    throw new Error(`The answer of ${name} does not fit its route: ${fits.error.message.slice(0, 500)}`);
}

function security(https: boolean) {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        // The PDF engine is WebAssembly; nothing else may be evaluated.
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        workerSrc: ["'self'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        mediaSrc: ["'self'", 'blob:'],
        fontSrc: ["'self'"],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    strictTransportSecurity: https,
  });
}
