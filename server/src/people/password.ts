import { hash, verify } from '@node-rs/argon2';

/** argon2id (the package's default) with OWASP's smallest recommended cost: 19 MiB, 2 passes, 1 lane. */
const COST = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, COST);
}

/** A hash nobody's password has: compared with when the login is unknown, so that both answers take equally long. */
let nobody: Promise<string> | null = null;

export async function passwordFits(stored: string | null, password: string): Promise<boolean> {
  nobody ??= hashPassword('nobody has this one');
  // What is no hash is nobody's password: an account that was read back has none yet.
  const real = stored?.startsWith('$argon2') ? stored : null;
  const fits = await verify(real ?? (await nobody), password);
  return real !== null && fits;
}
