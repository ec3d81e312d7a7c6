import type * as z from 'zod';
import { accountRoutes } from './account-routes.ts';
import { backRoutes } from './back-routes.ts';
import { bankRoutes } from './bank-routes.ts';
import { bookRoutes } from './book-routes.ts';
import { classRoutes } from './class-routes.ts';
import { deskRoutes } from './desk-routes.ts';
import { forStudentRoutes } from './for-student-routes.ts';
import { jobRoutes } from './job-routes.ts';
import { logRoutes } from './log-routes.ts';
import { markingRoutes } from './marking-routes.ts';
import { newsRoutes } from './news-routes.ts';
import { openRoutes } from './open-routes.ts';
import { outRoutes } from './out-routes.ts';
import { roomRoutes } from './room-routes.ts';
import type { Route } from './route.ts';
import { schoolRoutes } from './school-routes.ts';
import { scoreRoutes } from './score-routes.ts';
import { settingRoutes } from './setting-routes.ts';
import { togetherRoutes } from './together-routes.ts';
import { voiceRoutes } from './voice-routes.ts';
import { workRoutes } from './work-routes.ts';

export type { Route, Who } from './route.ts';

/** Named part by part: written out whole it is longer than a compiler writes down. */
export type Routes = typeof markingRoutes &
  typeof accountRoutes &
  typeof workRoutes &
  typeof classRoutes &
  typeof settingRoutes &
  typeof roomRoutes &
  typeof deskRoutes &
  typeof jobRoutes &
  typeof bankRoutes &
  typeof voiceRoutes &
  typeof scoreRoutes &
  typeof backRoutes &
  typeof newsRoutes &
  typeof forStudentRoutes &
  typeof togetherRoutes &
  typeof bookRoutes &
  typeof logRoutes &
  typeof outRoutes &
  typeof openRoutes &
  typeof schoolRoutes;

/** The HTTP contract: the server mounts exactly these, the web calls exactly these, `/api/openapi.json` describes these. */
export const routes: Routes = {
  ...markingRoutes,
  ...accountRoutes,
  ...workRoutes,
  ...classRoutes,
  ...settingRoutes,
  ...roomRoutes,
  ...deskRoutes,
  ...jobRoutes,
  ...bankRoutes,
  ...voiceRoutes,
  ...scoreRoutes,
  ...backRoutes,
  ...newsRoutes,
  ...forStudentRoutes,
  ...togetherRoutes,
  ...bookRoutes,
  ...logRoutes,
  ...outRoutes,
  ...openRoutes,
  ...schoolRoutes,
};

export type RouteName = keyof Routes;
export type ParamsOf<R extends Route> = z.infer<R['params']>;
export type QueryOf<R extends Route> = z.infer<R['query']>;
export type BodyOf<R extends Route> = z.infer<R['body']>;
export type ReplyOf<R extends Route> = z.infer<R['reply']>;
