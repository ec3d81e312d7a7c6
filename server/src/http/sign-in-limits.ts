import type { NextFunction, Request, RequestHandler, Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { AttemptStore } from '../people/attempts.ts';

/** Ten wrong passwords a login, two hundred an address (a school shares one), in a quarter of an hour. */
export function signInLimits(house: House): RequestHandler[] {
  const limit = (most: number, key: (req: Request) => string) =>
    rateLimit({
      windowMs: 15 * 60_000,
      limit: most,
      keyGenerator: (req) => key(req as unknown as Request),
      store: new AttemptStore(house),
      skipSuccessfulRequests: true,
      standardHeaders: false,
      legacyHeaders: false,
      validate: false,
      handler: (_req: Request, _res: Response, next: NextFunction) =>
        next(new Fault('too-many-attempts', { minutes: 15 })),
    }) as unknown as RequestHandler;
  const login = (req: Request) =>
    String(req.body?.login ?? '')
      .trim()
      .toLowerCase();
  return [limit(10, (req) => `login:${login(req)}`), limit(200, (req) => `address:${req.ip}`)];
}
