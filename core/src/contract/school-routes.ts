import * as z from 'zod';
import { ClassId, ConsentId, PersonId } from '../ids/id.ts';
import { SchoolActLine } from '../register/acts.ts';
import { JoinCode } from '../register/join-code.ts';
import { isLogin } from '../register/login.ts';
import { Credentials } from './class-shapes.ts';
import { route } from './route.ts';
import { Moment, Role } from './shapes.ts';

const Login = z.string().refine(isLogin, 'letters, digits, dots and dashes');
const Named = z.object({
  given: z
    .string()
    .trim()
    .min(1)
    .max(100)
    .refine((n) => !/^[=+@]/.test(n), 'a name, not a formula'),
  family: z.string().trim().max(100),
  login: Login,
});
const person = z.object({ personId: PersonId });

/** So many people are shown at once; who looks for somebody types a part of a name. */
export const PEOPLE_SHOWN = 200;

/** Somebody of the school, and where they are. */
export const SchoolPerson = z.object({
  id: PersonId,
  role: Role,
  given: z.string(),
  family: z.string(),
  login: z.string(),
  /** Last time they did anything here, to some minutes; null: they never signed in, or not for two weeks. */
  usedAt: Moment.nullable(),
  /** A second step is asked of them when they sign in. */
  stepOn: z.boolean(),
  classes: z.array(z.object({ id: ClassId, name: z.string(), role: Role, left: z.boolean() })),
});
export type SchoolPerson = z.infer<typeof SchoolPerson>;

/** Somebody asks to take a student into a class whom they do not have, or a student asks to be let into one. */
export const Consent = z.object({
  id: ConsentId,
  student: z.string(),
  classId: ClassId,
  className: z.string(),
  /** The student asks, by the class's code. */
  byStudent: z.boolean(),
  askedBy: z.string(),
  askedAt: Moment,
  /** Who looks has asked it themselves; others say yes or no. */
  mine: z.boolean(),
});
export type Consent = z.infer<typeof Consent>;

/** What would become one in a merge. */
export const Merge = z.object({
  /** Work of which both have a copy with something in it: they cannot become one. */
  bothHave: z.array(z.string()),
  /** Copies and classes that go over. */
  copies: z.int(),
  classes: z.int(),
});
export type Merge = z.infer<typeof Merge>;

/** What the school's administrators do, and consent to somebody's being taken into a class. */
export const schoolRoutes = {
  schoolPeople: route('GET', '/api/school/people', 'administrator', 'Who is in the school, and where', {
    query: z.object({
      /** Part of a name or login; left out: everybody. */
      like: z.string().max(100).optional(),
      role: Role.optional(),
    }),
    reply: z.object({ people: z.array(SchoolPerson), more: z.boolean() }),
  }),
  addStaff: route('POST', '/api/school/people', 'administrator', 'A new teacher or administrator', {
    body: Named.extend({ role: z.enum(['teacher', 'administrator']) }),
    reply: Credentials,
  }),
  correctPerson: route(
    'PUT',
    '/api/school/people/:personId',
    'administrator',
    'Correct somebody’s name or login',
    {
      params: person,
      body: Named,
    },
  ),
  resetPerson: route(
    'POST',
    '/api/school/people/:personId/password',
    'administrator',
    'A new first password for anybody; their second step is off then',
    { params: person, reply: Credentials },
  ),
  mergePeople: route(
    'POST',
    '/api/school/people/:personId/merge',
    'administrator',
    'Two accounts of one student become one',
    {
      params: person,
      body: z.object({
        /** The account that goes; all that is theirs becomes the other's. */
        gone: PersonId,
        /** Only tell what would happen. */
        look: z.boolean(),
      }),
      reply: Merge,
    },
  ),
  schoolActs: route('GET', '/api/school/acts', 'administrator', 'Who changed accounts, and whose', {
    reply: z.array(SchoolActLine),
  }),
  consents: route('GET', '/api/consents', 'person', 'Who waits to be taken into a class', {
    reply: z.array(Consent),
  }),
  askConsent: route(
    'POST',
    '/api/classes/:classId/consents',
    'teacher',
    'Ask to take in a student whom one does not have',
    {
      params: z.object({ classId: ClassId }),
      body: z.object({ login: Login }),
      reply: z.object({ personId: PersonId }),
    },
  ),
  answerConsent: route('POST', '/api/consents/:consentId', 'person', 'Say yes or no', {
    params: z.object({ consentId: ConsentId }),
    body: z.object({ granted: z.boolean() }),
    reply: z.object({ personId: PersonId, classId: ClassId }),
  }),
  joinCode: route(
    'PUT',
    '/api/classes/:classId/join-code',
    'teacher',
    'Let students ask to be let in by a code, a new one each time; or no more',
    {
      params: z.object({ classId: ClassId }),
      body: z.object({ on: z.boolean() }),
      reply: z.object({ code: JoinCode.nullable() }),
    },
  ),
  askToJoin: route('POST', '/api/join', 'student', 'Ask to be let into the class that has this code', {
    body: z.object({ code: JoinCode }),
    reply: z.object({ className: z.string(), state: z.enum(['asked', 'here']) }),
  }),
} as const;
