import { basename } from 'node:path';
import { FILE_LIMITS } from '@jotmark/core';

/** Letters of an ending, with its dot; what is longer is a part of the name. */
const MOST_ENDING = 12;

/** A name that is too long loses its middle: what kind of file it is stands at its end. */
function shortened(name: string): string {
  const letters = [...name];
  if (name.length <= FILE_LIMITS.name) return name;
  const dot = letters.lastIndexOf('.');
  const ending = dot > 0 && letters.length - dot <= MOST_ENDING ? letters.slice(dot).join('') : '';
  let stem = name.slice(0, FILE_LIMITS.name - ending.length - 1);
  // Half of a letter of two parts is none.
  if (/[\ud800-\udbff]$/.test(stem)) stem = stem.slice(0, -1);
  return `${stem.trimEnd()}…${ending}`;
}

/** A name to show and to download under: no folders, no control or direction characters, not too long, never empty. */
export function tidyName(raw: string): string {
  const name = basename(raw.replaceAll('\\', '/'))
    // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is taken out
    .replace(/[\u0000-\u001f\u007f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, '')
    .replace(/[<>:"|?*]/g, '_')
    .trim();
  return name === '' || /^\.+$/.test(name) ? 'work.pdf' : shortened(name);
}

/** The name of a folder in a zip. */
export const folderName = (text: string): string => tidyName(text.replace(/[/\\]/g, '-')).slice(0, 120);
