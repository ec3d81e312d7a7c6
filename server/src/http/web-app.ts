import { join } from 'node:path';
import { type RequestHandler, Router } from 'express';
import sirv from 'sirv';
import { Fault } from '../fault.ts';

/**
 * The built web app, in the form it was compressed to when it was built. What has its content in its name is kept by browsers for good; the
 * page itself is asked for each time, and is the same at every address of the app.
 */
export function webApp(dir: string): RequestHandler {
  const router = Router();
  const forms = { brotli: true, gzip: true, etag: true };
  router.use(
    '/assets',
    sirv(join(dir, 'assets'), {
      ...forms,
      setHeaders: (res) => res.setHeader('Cache-Control', 'public, max-age=31536000, immutable'),
    }),
    // A part of an app that was replaced meanwhile: the page loads itself anew.
    () => {
      throw new Fault('not-found');
    },
  );
  router.use(
    sirv(dir, {
      ...forms,
      single: true,
      setHeaders: (res) => res.setHeader('Cache-Control', 'no-cache'),
    }),
  );
  return router;
}

/** Stand-ins for a microphone, a camera and dictation, for machines that have none: the demo's and the tests'. */
export function standIns(dir: string): RequestHandler {
  const router = Router();
  const dev = { dev: true };
  router.use('/voice', sirv(join(dir, 'assets/voice'), dev));
  router.use(sirv(join(dir, 'dist/stand-in'), dev));
  return router;
}
