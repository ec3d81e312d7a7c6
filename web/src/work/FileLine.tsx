import type { DocumentState } from '@jotmark/core';
import { X } from 'lucide-react';
import type { ComponentProps, ReactNode } from 'react';
import { aboutFile } from '../paper/about-file.ts';
import { NO_PAGES } from '../paper/Enclosures.tsx';
import { ReadAgain } from '../paper/ReadAgain.tsx';

export interface FileListProps {
  readonly files: readonly DocumentState[];
  readonly readOnly: boolean;
  onOrder(files: readonly DocumentState[]): void;
  onRemove(file: DocumentState): void;
}

interface Props extends ComponentProps<'li'> {
  readonly file: DocumentState;
  /** What it is held by to be put elsewhere. */
  readonly handle?: ReactNode;
  onRemove?(): void;
}

/** One file that goes along: its name, what of it can be seen, what is wrong with it. */
export function FileLine({ file, handle, onRemove, ...item }: Props) {
  return (
    <li {...item} className="rounded-lg border border-line bg-paper px-2 py-1.5">
      <div className="flex items-center gap-2">
        {handle}
        <span className="min-w-0 flex-1">
          <span className="block truncate font-semibold">{file.name}</span>
          <span className="text-sm text-soft">{aboutFile(file)}</span>
        </span>
        {onRemove && (
          <button
            type="button"
            className="grid size-9 place-items-center rounded text-soft hover:text-caution"
            aria-label={`Remove ${file.name}`}
            onClick={onRemove}
          >
            <X size={18} aria-hidden="true" />
          </button>
        )}
      </div>
      {file.shows === 'link' && onRemove && (
        <p className="mt-1 px-1 text-sm text-caution">
          A link cannot be marked on, and what it shows may change. Add a file or a picture of it too: both
          are kept.
        </p>
      )}
      {file.trouble && (
        <p className="mt-1 px-1 text-sm text-caution">
          {NO_PAGES[file.trouble]} {file.trouble === 'too-slow' && <ReadAgain documentId={file.id} />}
        </p>
      )}
      {file.shows === 'pages' && file.reading.state === 'failed' && (
        <p className="mt-1 px-1 text-sm">
          The file is kept. <ReadAgain documentId={file.id} />
        </p>
      )}
    </li>
  );
}
