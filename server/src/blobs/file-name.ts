import { basename } from 'node:path';
import { FILE_LIMITS } from '@jotmark/core';

/** A name to show and to download under: no folders, no control or direction characters, not too long, never empty. */
export function tidyName(raw: string): string {
  const name = basename(raw.replaceAll('\\', '/'))
    // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is taken out
    .replace(/[\u0000-\u001f\u007f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, '')
    .replace(/[<>:"|?*]/g, '_')
    .trim()
    .slice(0, FILE_LIMITS.name);
  return name === '' || /^\.+$/.test(name) ? 'work.pdf' : name;
}

/** The name of a folder in a zip. */
export const folderName = (text: string): string => tidyName(text.replace(/[/\\]/g, '-')).slice(0, 120);
