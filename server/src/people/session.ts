import { createHash, randomBytes } from 'node:crypto';
import { type Person, type PersonId, Role } from '@jotmark/core';
import type { Request, Response } from 'express';
import { LessThan } from 'typeorm';
import { rowsOf } from '../database/batch-pool.ts';
import { SessionTable } from '../database/entities/index.ts';
import { as } from '../database/pick.ts';
import { insert, remove } from '../database/write.ts';
import type { House } from '../house.ts';

const COOKIE = 'jotmark';
const DAYS = 14;

export interface SignedIn {
  readonly person: Person;
  readonly token: string;
  /** Signed in with a password that another made. */
  readonly firstPassword: boolean;
}

const digest = (secret: string) => createHash('sha256').update(secret).digest('hex');

function secretOf(req: Request): string | null {
  const found = /(?:^|;\s*)jotmark=([\w-]{43})(?:;|$)/.exec(req.headers.cookie ?? '');
  return found?.[1] ?? null;
}

function cookieOptions(house: House) {
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
} as const;

/**
 * Who sent this request, or null. Raw: every request asks it, also the one that a pen waits for, on the pen's own connections (bench: acknowledging a
 * change batch).
 */
export async function readSession(house: House, req: Request): Promise<SignedIn | null> {
  const secret = secretOf(req);
  if (!secret) return null;
  const [found] = await house.batches.query(
    `SELECT p.id, s.token, p.role, p.given, p.family, p.login, p.first_password AS firstPassword FROM session s JOIN person p ON p.id = s.person_id
     WHERE s.token_hash = ? AND s.expires_at > ?`,
    [digest(secret), new Date(house.now())],
  );
  const [row] = rowsOf(found, SIGNED_IN);
  if (!row) return null;
  const { token, firstPassword, ...person } = row;
  return { person, token, firstPassword };
}

export async function startSession(
  house: House,
  person: Person,
  firstPassword: boolean,
  res: Response,
): Promise<SignedIn> {
  const secret = randomBytes(32).toString('base64url');
  const token = randomBytes(24).toString('base64url');
  const db = house.db.manager;
  await db.getRepository(SessionTable).delete({ expiresAt: LessThan(house.now()) });
  await insert(db, SessionTable, {
    tokenHash: digest(secret),
    personId: person.id,
    token,
    expiresAt: house.now() + DAYS * 86_400_000,
  });
  res.cookie(COOKIE, secret, { ...cookieOptions(house), maxAge: DAYS * 86_400_000 });
  return { person, token, firstPassword };
}

export async function endSession(house: House, req: Request, res: Response): Promise<void> {
  const secret = secretOf(req);
  if (secret) await remove(house.db.manager, SessionTable, { tokenHash: digest(secret) });
  res.clearCookie(COOKIE, cookieOptions(house));
}
