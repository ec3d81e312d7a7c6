import type { DocumentState, NoPages } from '@jotmark/core';
import { Download, ExternalLink, FileQuestion, FileText, Film, Music } from 'lucide-react';
import { Fragment, type ReactNode } from 'react';
import { addressOf } from '../api/call.ts';
import { fileSize } from '../time/words.ts';
import { ReadAgain } from './ReadAgain.tsx';

/** Why a file has no pages, and what to do about it. */
export const NO_PAGES: Readonly<Record<NoPages, string>> = {
  'unknown-kind':
    'Jotmark cannot show this kind of file as pages. It is kept, can be opened from here and scored. To have it marked on the page, save or print it as PDF and add that.',
  'old-office':
    'This old office format came in before Jotmark could read it. It is kept and can be scored. To have it marked on the page, add it once more.',
  password:
    'This document has a password. It is kept and can be scored. To have it marked on the page, save it without a password and add that.',
  'apple-photo':
    'This photo is in a format that Jotmark could not read. It is kept. Set the camera to “most compatible”, or send the photo as JPEG, and add that.',
  'not-converted':
    'This document could not be turned into pages; it may be damaged. It is kept and can be scored. Save it as PDF and add that.',
  'cut-off':
    'The end of this file is missing, as when sending or saving breaks off. It is kept as it came. Add it once more, from where it is whole.',
  'too-many-pages':
    'This document has more than 500 pages. It is kept. Save only the pages that belong here.',
  'too-slow':
    'Turning this file into pages took too long, or more memory than one file may have. It is kept and can be scored. Try again; if that does not help, save it smaller or as PDF, and add that.',
  'part-missing':
    'This picture is damaged: it is shown as far as it could be read. The file is kept as it came. Take or save it again, and add that.',
  'no-converter':
    'Office documents cannot be turned into pages on this server. It is kept and can be scored. Save it as PDF and add that.',
};

/** A document's original: shown by an element of a page, or saved. */
export const originalOf = (id: string, save = false) =>
  addressOf('documentOriginal', { documentId: id }) + (save ? '?save' : '');

const SIGNS = {
  sound: Music,
  film: Film,
  link: ExternalLink,
  nothing: FileQuestion,
  pages: FileText,
} as const;

/** What came along without pages: to be heard, watched, followed, or kept. `address` says where its bytes are. */
export function Enclosure({
  document,
  address = originalOf,
}: {
  document: DocumentState;
  address?: (id: string, save?: boolean) => string;
}) {
  const Sign = SIGNS[document.shows];
  return (
    <section
      aria-label={document.name}
      className="w-full max-w-xl rounded-lg bg-raised p-4 shadow-sm select-text"
      data-own-pointer
    >
      <p className="flex items-center gap-2.5">
        <Sign size={20} aria-hidden="true" className="shrink-0 text-soft" />
        <span className="min-w-0 flex-1 truncate font-semibold">{document.name}</span>
        {document.shows === 'link' ? (
          <a
            href={document.url ?? addressOf('documentLink', { documentId: document.id })}
            target="_blank"
            rel="noopener noreferrer nofollow"
            className="text-action underline"
          >
            Open {hostOf(document.url)}
          </a>
        ) : (
          <a
            href={address(document.id, true)}
            download
            className="flex items-center gap-1 text-sm text-action underline"
          >
            <Download size={15} aria-hidden="true" /> {fileSize(document.bytes)}
          </a>
        )}
      </p>
      {document.shows === 'sound' && (
        // biome-ignore lint/a11y/useMediaCaption: a student's own recording has no captions
        <audio controls preload="metadata" src={address(document.id)} className="mt-3 w-full" />
      )}
      {document.shows === 'film' && (
        // biome-ignore lint/a11y/useMediaCaption: a student's own film has no captions
        <video
          controls
          preload="metadata"
          src={address(document.id)}
          className="mt-3 max-h-96 w-full rounded bg-black"
        />
      )}
      {document.shows === 'link' && (
        <p className="mt-2 text-sm text-soft">
          A link cannot be marked on, and what it shows may have changed since it was handed in.
        </p>
      )}
      {document.trouble && (
        <p className="mt-2 text-sm text-soft">
          {NO_PAGES[document.trouble]}{' '}
          {document.trouble === 'too-slow' && address === originalOf && (
            <ReadAgain documentId={document.id} />
          )}
        </p>
      )}
    </section>
  );
}

/** Where an address leads, so that nobody follows one blindly. */
export function hostOf(url: string | null): string {
  return url && URL.canParse(url) ? new URL(url).host || url : 'link';
}

/** All that came along without pages, and nothing where there is none. */
export function Enclosures({
  documents,
  film,
}: {
  documents: readonly DocumentState[];
  /** What stands for a film or a sound that can be marked. */
  film?: (document: DocumentState) => ReactNode;
}) {
  const without = documents.filter((d) => d.shows !== 'pages' || d.trouble !== null);
  if (without.length === 0) return null;
  return (
    <div className="mx-auto mb-5 flex max-w-2xl flex-col items-center gap-3">
      {without.map((d) =>
        film && (d.shows === 'film' || d.shows === 'sound') ? (
          <Fragment key={d.id}>{film(d)}</Fragment>
        ) : (
          <Enclosure key={d.id} document={d} />
        ),
      )}
    </div>
  );
}
