import { createHash, randomBytes } from 'node:crypto';
import type { PersonId } from '@jotmark/core';
import type { Request, Response } from 'express';
import { LessThan } from 'typeorm';
import { KnownDeviceTable } from '../database/entities/index.ts';
import { find, insertOrUpdate } from '../database/write.ts';
import type { House } from '../house.ts';
import { cookieOptions } from './session.ts';

const COOKIE = 'jotmark-device';
const DAYS = 365;

const digest = (secret: string) => createHash('sha256').update(secret).digest('hex');

const secretOf = (req: Request): string | null =>
  /(?:^|;\s*)jotmark-device=([\w-]{43})(?:;|$)/.exec(req.headers.cookie ?? '')?.[1] ?? null;

/** The digest of the browser that asks, where this person has signed in from it before; null: it is new to them. */
export async function knownDevice(house: House, req: Request, personId: PersonId): Promise<string | null> {
  const secret = secretOf(req);
  if (!secret) return null;
  const tokenHash = digest(secret);
  return (await find(house.db.manager, KnownDeviceTable, { tokenHash, personId })) && tokenHash;
}

/** This person has signed in here: next time nobody's wrong passwords hold them up in this browser. */
export async function rememberDevice(
  house: House,
  req: Request,
  res: Response,
  personId: PersonId,
): Promise<void> {
  const secret = secretOf(req) ?? randomBytes(32).toString('base64url');
  await insertOrUpdate(
    house.db.manager,
    KnownDeviceTable,
    { tokenHash: digest(secret), personId, at: house.now() },
    ['at'],
  );
  res.cookie(COOKIE, secret, { ...cookieOptions(house), path: '/api/sign-in', maxAge: DAYS * 86_400_000 });
}

/** Browsers that nobody has signed in from for a year are forgotten. */
export async function sweepDevices(house: House): Promise<void> {
  await house.db.manager
    .getRepository(KnownDeviceTable)
    .delete({ at: LessThan(house.now() - DAYS * 86_400_000) });
}
