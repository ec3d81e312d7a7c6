import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { base64 } from '@scure/base';
import * as z from 'zod';

/** Bytes are kept apart from the values that use them, once, by their SHA-256 in hexadecimal. */
export const Digest = z
  .string()
  .regex(/^[0-9a-f]{64}$/)
  .brand<'Digest'>();
export type Digest = z.infer<typeof Digest>;

export const digestOf = (bytes: Uint8Array): Digest => bytesToHex(sha256(bytes)) as Digest;

/** Bytes that an older value had in itself, as base64. Throws on what is no base64. */
export const bytesOf = (text: string): Uint8Array => base64.decode(text);

/** Bytes as base64, for where a value has to travel with them: in a PDF that goes elsewhere. */
export const base64Of = (bytes: Uint8Array): string => base64.encode(bytes);

/** Hears of bytes that lay in an older value; gives what they are called from now on. */
export type KeepBytes = (bytes: Uint8Array) => Digest;
