import { createHash, randomBytes } from 'node:crypto';
import { deviceWords, type OwnSession, type Person, type PersonId, Role } from '@jotmark/core';
import type { Request, Response } from 'express';
import { LessThan, MoreThan, Not } from 'typeorm';
import { rowsOf } from '../database/batch-pool.ts';
import { SessionTable } from '../database/entities/index.ts';
import { as } from '../database/pick.ts';
import { insert, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

const COOKIE = 'jotmark';
const DAYS = 14;

export interface SignedIn {
  readonly person: Person;
  readonly token: string;
  /** Signed in with a password that another made. */
  readonly firstPassword: boolean;
  /** A second step is asked of them. */
  readonly stepOn: boolean;
}

const digest = (secret: string) => createHash('sha256').update(secret).digest('hex');

function secretOf(req: Request): string | null {
  const found = /(?:^|;\s*)jotmark=([\w-]{43})(?:;|$)/.exec(req.headers.cookie ?? '');
  return found?.[1] ?? null;
}

export function cookieOptions(house: House) {
  return { httpOnly: true, sameSite: 'lax', secure: house.settings.secureCookies, path: '/' } as const;
}

const SIGNED_IN = {
  id: as.id<PersonId>(),
  token: as.text,
  role: as.oneOf(Role.options),
  given: as.text,
  family: as.text,
  login: as.text,
  firstPassword: as.flag,
  stepOn: as.flag,
  usedAt: as.maybe(as.moment),
} as const;

/**
 * Who sent this request, or null. Raw: every request asks it, also the one that a pen waits for, on the pen's own connections (bench: acknowledging a
 * change batch).
 */
export async function readSession(house: House, req: Request): Promise<SignedIn | null> {
  const secret = secretOf(req);
  if (!secret) return null;
  const [found] = await house.batches.query(
    `SELECT p.id, s.token, p.role, p.given, p.family, p.login, p.first_password AS firstPassword, p.step_on AS stepOn, s.used_at AS usedAt FROM session s JOIN person p ON p.id = s.person_id
     WHERE s.token_hash = ? AND s.expires_at > ?`,
    [digest(secret), new Date(house.now())],
  );
  const [row] = rowsOf(found, SIGNED_IN);
  if (!row) return null;
  const { token, firstPassword, stepOn, usedAt, ...person } = row;
  noteUse(house, digest(secret), usedAt);
  return { person, token, firstPassword, stepOn };
}

/** Last use is noted down so often at the most. */
const NOTED_MS = 10 * 60_000;

/** Notes that a session was used. The request that uses it does not wait for that. */
function noteUse(house: House, tokenHash: string, usedAt: number | null): void {
  const now = house.now();
  if (usedAt !== null && now - usedAt < NOTED_MS) return;
  update(house.db.manager, SessionTable, { tokenHash }, { usedAt: now }).catch((error: unknown) =>
    house.log.warn({ err: error }, 'the use of a session could not be noted'),
  );
}

/** Whether the school asks for a second step that this person does not have yet. */
export const needsStep = (house: House, { person, stepOn }: SignedIn): boolean =>
  house.settings.secondStep === 'required' && person.role !== 'student' && !stepOn;

export async function startSession(
  house: House,
  person: Person,
  firstPassword: boolean,
  stepOn: boolean,
  req: Request,
  res: Response,
): Promise<SignedIn> {
  const secret = randomBytes(32).toString('base64url');
  const token = randomBytes(24).toString('base64url');
  const now = house.now();
  await insert(house.db.manager, SessionTable, {
    tokenHash: digest(secret),
    personId: person.id,
    token,
    expiresAt: now + DAYS * 86_400_000,
    device: deviceWords(req.get('user-agent') ?? '').slice(0, 200),
    begunAt: now,
    usedAt: now,
  });
  res.cookie(COOKIE, secret, { ...cookieOptions(house), maxAge: DAYS * 86_400_000 });
  return { person, token, firstPassword, stepOn };
}

/** Ends the session that asks; its browser lets go of all that it keeps of ours, but for what it keeps itself until it is sent. */
export async function endSession(house: House, req: Request, res: Response): Promise<void> {
  const secret = secretOf(req);
  if (secret) await remove(house.db.manager, SessionTable, { tokenHash: digest(secret) });
  res.clearCookie(COOKIE, cookieOptions(house));
  res.set('Clear-Site-Data', '"cache"');
}

/** What is told of a session's digest: it names the session and opens nothing. */
const told = (tokenHash: string) => tokenHash.slice(0, 24);

/** Where somebody is signed in, the last used first. */
export async function sessionsOf(house: House, { person, token }: SignedIn): Promise<OwnSession[]> {
  const rows = await house.db.manager
    .getRepository(SessionTable)
    .find({ where: { personId: person.id, expiresAt: MoreThan(house.now()) }, order: { usedAt: 'DESC' } });
  return rows.map(({ tokenHash, device, begunAt, usedAt, token: own }) => ({
    id: told(tokenHash),
    device,
    begunAt,
    usedAt,
    here: own === token,
  }));
}

/** Signs this person out elsewhere: in one other browser, or in all of them. */
export async function endOthers(
  house: House,
  { person, token }: SignedIn,
  only: string | null,
): Promise<void> {
  const others = await house.db.manager
    .getRepository(SessionTable)
    .find({ where: { personId: person.id, token: Not(token) } });
  const ended = others.filter((s) => only === null || told(s.tokenHash) === only);
  if (only !== null && ended.length === 0) throw new Fault('not-found');
  for (const { tokenHash } of ended) await remove(house.db.manager, SessionTable, { tokenHash });
}

/** Sessions that are over go. */
export async function sweepSessions(house: House): Promise<void> {
  await house.db.manager.getRepository(SessionTable).delete({ expiresAt: LessThan(house.now()) });
}
