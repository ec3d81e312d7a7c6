import type { DocumentState } from '@jotmark/core';
import { fileSize, plural } from '../time/words.ts';

/** "3 pages, 120 kB", or what else there is to say. */
export function aboutFile(file: DocumentState): string {
  switch (file.shows) {
    case 'pages':
      if (file.pages) return `${plural(file.pages, 'page', 'pages')}, ${fileSize(file.bytes)}`;
      return file.reading.state === 'failed' ? 'pages could not be made' : 'making pages …';
    case 'sound':
      return `recording, ${fileSize(file.bytes)}`;
    case 'film':
      return `film, ${fileSize(file.bytes)}`;
    case 'link':
      return file.url ?? 'link';
    case 'nothing':
      return `kept as it is, ${fileSize(file.bytes)}`;
  }
}

/** People type addresses without their beginning. */
export function withScheme(url: string): string {
  const text = url.trim();
  return /^[a-z][a-z0-9+.-]*:/i.test(text) ? text : `https://${text}`;
}
