import { formatPoints } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useRef } from 'react';
import { Link, useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { useFilesAnywhere } from '../frame/files-anywhere.ts';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { When } from '../frame/When.tsx';
import { plural } from '../time/words.ts';
import { useMakeWorksheet } from './useMakeWorksheet.ts';

/** A teacher's worksheets, to be used again, and the way to a new one. */
export function WorksheetList() {
  const navigate = useNavigate();
  const list = useQuery({
    queryKey: keys.worksheets,
    queryFn: () => call('worksheets'),
    refetchInterval: 10_000,
  });
  const input = useRef<HTMLInputElement>(null);
  const make = useMakeWorksheet((id) => navigate(`/worksheets/${id}`));
  const over = useFilesAnywhere(make.share === null ? (files) => make.start(files) : null);
  const rows = list.data ?? [];
  return (
    <>
      <TopBar crumbs={[{ text: 'Worksheets' }]} />
      <main className="mx-auto max-w-3xl p-6">
        <div
          className={`flex flex-wrap items-center gap-3 rounded-lg ${over ? 'bg-action-wash outline-2 outline-offset-8 outline-action' : ''}`}
        >
          <button
            type="button"
            className="act"
            disabled={make.share !== null}
            onClick={() => input.current?.click()}
          >
            New worksheet from a file
          </button>
          <p className="text-sm text-soft">
            PDF, pictures, docx, odt, rtf, pptx, odp; several become one. Files can be dropped anywhere on
            this page.
          </p>
          <FileInput
            at={input}
            multiple
            label="File for a new worksheet"
            onFiles={(files) => make.start(files)}
          />
        </div>
        {make.share !== null && (
          <p role="status" className="mt-3">
            Sending … <progress value={make.share} max={1} />
          </p>
        )}
        {make.error && (
          <p role="alert" className="mt-3 text-caution">
            {sentenceOf(make.error)}
          </p>
        )}
        {list.error ? (
          <Trouble error={list.error} again={() => list.refetch()} />
        ) : list.isPending ? (
          <Waiting what="your worksheets" />
        ) : rows.length === 0 ? (
          <Empty title="No worksheets yet">
            Use a file you have; its pages get questions with points, and every student a copy of their own.
          </Empty>
        ) : (
          <ul className="mt-5 divide-y divide-line rounded-lg bg-raised shadow-sm">
            {rows.map((w) => (
              <li key={w.id} className="flex flex-wrap items-baseline gap-x-4 px-4 py-2.5">
                <Link
                  to={`/worksheets/${w.id}`}
                  className="min-w-60 flex-1 font-bold hover:text-action hover:underline"
                >
                  {w.name}
                </Link>
                <span className="text-sm text-soft tabular">
                  {w.pages ? plural(w.pages, 'page', 'pages') : 'making pages …'} ·{' '}
                  {plural(w.questions, 'question', 'questions')} · {formatPoints(w.points)} points
                  {w.version > 1 && ` · version ${w.version}`} · <When at={w.createdAt} />
                </span>
              </li>
            ))}
          </ul>
        )}
      </main>
    </>
  );
}
