import { join } from 'node:path';
import { type Route, type RouteName, routes } from '@jotmark/core';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { AttemptStore } from '../people/attempts.ts';
import { readSession, type SignedIn } from '../people/session.ts';
import { answerFaults } from './answer-faults.ts';
import { Fault } from '../fault.ts';
import type { Call, Parts } from './handler.ts';
import { makeHandlers } from './handlers.ts';

/** A day's ink sent in one go: 200 changes, some of them long strokes. */
const BODY_LIMIT = '16mb';

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

  const handlers = makeHandlers(parts);
  const json = express.json({ limit: BODY_LIMIT });
  for (const name of Object.keys(routes) as RouteName[]) {
    const route: Route = routes[name];
    const before = [
      ...(route.takes === 'json' ? [json] : []),
      ...(name === 'signIn' ? signInLimits(parts) : []),
    ];
    const method = route.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
    app[method](route.path, ...before, async (req: Request, res: Response) => {
      const signedIn = await admit(parts, route, name, req);
      const call = {
        params: read(route.params, req.params),
        query: read(route.query, req.query),
        body: route.takes === 'json' && route.method !== 'GET' ? read(route.body, req.body ?? {}) : {},
        person: signedIn?.person,
        signedIn,
        req,
        res,
      };
      const reply = await (handlers[name] as (call: Call<RouteName>) => Promise<unknown>)(
        call as Call<RouteName>,
      );
      if (route.sends === 'json') res.set('Cache-Control', 'no-store').json(reply);
    });
  }
  app.use('/api', () => {
    throw new Fault('not-found');
  });
  if (house.settings.webDir) serveWeb(app, house.settings.webDir);
  app.use(answerFaults(house));
  return app;
}

/** Who may call at all: role, and for changes the token that only our own pages know. */
async function admit(
  { house }: Parts,
  route: Route,
  name: RouteName,
  req: Request,
): Promise<SignedIn | null> {
  const signedIn = await readSession(house, req);
  if (route.method !== 'GET' && !sameOrigin(req)) throw new Fault('stale-page');
  if (route.who === 'anyone') return signedIn;
  if (!signedIn) throw new Fault('not-signed-in');
  if (route.who !== 'person' && route.who !== signedIn.person.role) throw new Fault('not-yours');
  if (route.method !== 'GET' && name !== 'signIn' && req.get('x-jotmark-token') !== signedIn.token)
    throw new Fault('stale-page');
  return signedIn;
}

/** Browsers say where a request comes from; programs that say nothing carry no cookies of others. */
function sameOrigin(req: Request): boolean {
  const site = req.get('sec-fetch-site');
  if (site) return site === 'same-origin' || site === 'none';
  const origin = req.get('origin');
  return !origin || new URL(origin).host === req.get('host');
}

function read(schema: Route['body'], value: unknown): unknown {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  throw new Fault('bad-input', { what: issue.path.join('.') || 'body', why: issue.message.slice(0, 200) });
}

/** Ten wrong passwords a login, two hundred an address (a school shares one), in a quarter of an hour. */
function signInLimits(parts: Parts) {
  const limit = (most: number, key: (req: Request) => string) =>
    rateLimit({
      windowMs: 15 * 60_000,
      limit: most,
      keyGenerator: (req) => key(req as unknown as Request),
      store: new AttemptStore(parts.house),
      skipSuccessfulRequests: true,
      standardHeaders: false,
      legacyHeaders: false,
      validate: false,
      handler: (_req: Request, _res: Response, next: NextFunction) =>
        next(new Fault('too-many-attempts', { minutes: 15 })),
    });
  return [
    limit(
      10,
      (req) =>
        `login:${String(req.body?.login ?? '')
          .trim()
          .toLowerCase()}`,
    ),
    limit(200, (req) => `address:${req.ip}`),
  ];
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

function serveWeb(app: Express, dir: string): void {
  app.use(
    '/assets',
    express.static(join(dir, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
  );
  app.use(express.static(dir, { index: false }));
  app.get('/{*splat}', (_req, res) => res.set('Cache-Control', 'no-cache').sendFile(join(dir, 'index.html')));
}
