import { createHash, randomBytes } from 'node:crypto';
import type { Person } from '@jotmark/core';
import type { Request, Response } from 'express';
import type { House } from '../house.ts';

const COOKIE = 'jotmark';
const DAYS = 14;

export interface SignedIn {
  readonly person: Person;
  readonly token: string;
}

const digest = (secret: string) => createHash('sha256').update(secret).digest('hex');

function secretOf(req: Request): string | null {
  const found = /(?:^|;\s*)jotmark=([\w-]{43})(?:;|$)/.exec(req.headers.cookie ?? '');
  return found?.[1] ?? null;
}

function cookieOptions(house: House) {
  return { httpOnly: true, sameSite: 'lax', secure: house.settings.secureCookies, path: '/' } as const;
}

/** Who sent this request, or null. */
export async function readSession(house: House, req: Request): Promise<SignedIn | null> {
  const secret = secretOf(req);
  if (!secret) return null;
  const [row] = await house.db.query(
    `SELECT s.token, p.id, p.role, p.given, p.family, p.login FROM session s JOIN person p ON p.id = s.person_id
     WHERE s.token_hash = ? AND s.expires_at > ?`,
    [digest(secret), new Date(house.now())],
  );
  if (!row) return null;
  const { token, ...person } = row;
  return { person, token };
}

export async function startSession(house: House, person: Person, res: Response): Promise<SignedIn> {
  const secret = randomBytes(32).toString('base64url');
  const token = randomBytes(24).toString('base64url');
  const expires = new Date(house.now() + DAYS * 86_400_000);
  await house.db.query('DELETE FROM session WHERE expires_at < ?', [new Date(house.now())]);
  await house.db.query('INSERT INTO session (token_hash, person_id, token, expires_at) VALUES (?, ?, ?, ?)', [
    digest(secret),
    person.id,
    token,
    expires,
  ]);
  res.cookie(COOKIE, secret, { ...cookieOptions(house), maxAge: DAYS * 86_400_000 });
  return { person, token };
}

export async function endSession(house: House, req: Request, res: Response): Promise<void> {
  const secret = secretOf(req);
  if (secret) await house.db.query('DELETE FROM session WHERE token_hash = ?', [digest(secret)]);
  res.clearCookie(COOKIE, cookieOptions(house));
}
