/** What bytes that marks name by their SHA-256 are; null where they are not at hand. */
export type BytesOf = (digest: string) => Uint8Array | null;
