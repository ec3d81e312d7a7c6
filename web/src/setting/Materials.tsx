import { type AssignmentSheet, formatPoints, type Material, type WorksheetId } from '@jotmark/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { ArrowDown, ArrowUp, ExternalLink, FileText, NotebookPen, X } from 'lucide-react';
import { useId, useRef, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.ts';
import { sendFiles } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { useFilesAnywhere } from '../frame/files-anywhere.ts';
import { aboutFile, withScheme } from '../paper/about-file.ts';
import { originalOf } from '../paper/Enclosures.tsx';
import { useMakeWorksheet } from '../worksheets/useMakeWorksheet.ts';
import { PagesToWriteOn } from './PagesToWriteOn.tsx';

interface Props {
  readonly sheet: AssignmentSheet;
  readonly most: number | null;
  onUsePoints(points: number): void;
  /** Keeps what is being written before something else changes the assignment. */
  before(): Promise<void>;
  onChanged(sheet: AssignmentSheet): void;
}

const SIGN = { file: FileText, link: ExternalLink, worksheet: NotebookPen } as const;

/** What comes with an assignment: worksheets of which everyone gets a copy, and files and links to look at. */
export function Materials({ sheet, most, onUsePoints, before, onChanged }: Props) {
  const params = { assignmentId: sheet.id };
  const input = useRef<HTMLInputElement>(null);
  const [share, setShare] = useState<number | null>(null);
  const change = useMutation({
    mutationFn: async (step: () => Promise<AssignmentSheet>) => {
      await before();
      return step();
    },
    onSuccess: onChanged,
  });
  const make = useMakeWorksheet((worksheetId) =>
    change.mutate(() => call('addMaterialWorksheet', { params, body: { worksheetId } })),
  );
  const sheetInput = useRef<HTMLInputElement>(null);
  const addFiles = (files: readonly File[]) => {
    if (files.length === 0) return;
    setShare(0);
    change.mutate(
      async () => {
        for (const [i, file] of files.entries())
          await sendFiles('addMaterialFile', params, file, {
            onSent: (part) => setShare((i + part) / files.length),
          });
        return call('assignment', { params });
      },
      { onSettled: () => setShare(null) },
    );
  };
  const over = useFilesAnywhere(share === null ? addFiles : null);
  const move = (index: number, by: number) => {
    const order = sheet.materials.map((m) => m.id);
    const [id] = order.splice(index, 1);
    order.splice(index + by, 0, id!);
    change.mutate(() => call('orderMaterials', { params, body: { order } }));
  };
  const points = sheet.materials.reduce((n, m) => n + (m.points ?? 0), 0);
  const trouble = change.error ?? make.error;
  return (
    <section
      aria-label="Worksheets and materials"
      className={over ? 'rounded-lg outline-2 outline-offset-8 outline-action' : ''}
    >
      {over && (
        <p role="status" className="mb-2 rounded bg-action px-3 py-1 font-semibold text-white">
          Add as a file to look at
        </p>
      )}
      <h2 className="font-bold">Worksheets and materials</h2>
      <ul className="mt-2 space-y-1.5">
        {sheet.materials.map((m, i) => (
          <MaterialLine
            key={m.id}
            material={m}
            assignmentId={sheet.id}
            first={i === 0}
            last={i === sheet.materials.length - 1}
            onMove={(by) => move(i, by)}
            onRemove={() =>
              change.mutate(() => call('removeMaterial', { params: { ...params, materialId: m.id } }))
            }
          />
        ))}
      </ul>
      {points > 0 && points !== most && (
        <p className="mt-2 text-caution">
          The questions add up to {formatPoints(points)} points; this work has{' '}
          {most === null ? 'none' : formatPoints(most)}.{' '}
          <button type="button" className="text-action underline" onClick={() => onUsePoints(points)}>
            Use {formatPoints(points)}
          </button>
        </p>
      )}
      {trouble && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(trouble)}
        </p>
      )}
      {(share !== null || make.share !== null) && (
        <p role="status" className="mt-2">
          Sending … <progress className="w-40" value={share ?? make.share ?? 0} max={1} />
        </p>
      )}
      <div className="mt-3 flex flex-wrap gap-2">
        <button type="button" className="quiet" onClick={() => sheetInput.current?.click()}>
          New worksheet from a file
        </button>
        <KnownWorksheets
          taken={sheet.materials}
          onTake={(worksheetId) =>
            change.mutate(() => call('addMaterialWorksheet', { params, body: { worksheetId } }))
          }
        />
        <PagesToWriteOn
          onAdd={(words) => change.mutate(() => call('addWritingPages', { params, body: { words } }))}
        />
        <button type="button" className="quiet" onClick={() => input.current?.click()}>
          File to look at
        </button>
        <LinkToLookAt
          onAdd={(url, name) => change.mutate(() => call('addMaterialLink', { params, body: { url, name } }))}
        />
      </div>
      <FileInput at={input} label="File to look at" onFiles={addFiles} />
      <FileInput
        at={sheetInput}
        multiple
        label="File for a new worksheet"
        onFiles={(files) => make.start(files)}
      />
    </section>
  );
}

function MaterialLine({
  material: m,
  assignmentId,
  first,
  last,
  onMove,
  onRemove,
}: {
  material: Material;
  assignmentId: string;
  first: boolean;
  last: boolean;
  onMove(by: number): void;
  onRemove(): void;
}) {
  const Sign = SIGN[m.kind];
  const small = 'grid size-8 place-items-center rounded text-soft hover:bg-action-wash disabled:opacity-30';
  return (
    <li className="flex items-center gap-2 rounded-lg bg-raised px-3 py-2 shadow-sm">
      <Sign size={20} aria-hidden="true" className="shrink-0 text-soft" />
      <span className="min-w-0 flex-1">
        {m.kind === 'worksheet' ? (
          <Link
            to={`/worksheets/${m.worksheetId}?for=${assignmentId}`}
            className="block truncate font-semibold hover:text-action hover:underline"
          >
            {m.name}
          </Link>
        ) : (
          <a
            href={m.kind === 'link' ? (m.url ?? '#') : originalOf(m.document!.id, true)}
            target="_blank"
            rel="noopener noreferrer"
            className="block truncate font-semibold hover:text-action hover:underline"
          >
            {m.name}
          </a>
        )}
        <span className="text-sm text-soft">
          {m.kind === 'worksheet'
            ? `worksheet, everyone fills in their own · ${m.document ? aboutFile(m.document) : ''}${m.points ? ` · ${formatPoints(m.points)} points` : ''}`
            : `to look at · ${m.document ? aboutFile(m.document) : (m.url ?? '')}`}
        </span>
      </span>
      {m.kind === 'worksheet' && (
        <Link to={`/worksheets/${m.worksheetId}?for=${assignmentId}`} className="quiet !min-h-8 !py-1">
          Questions
        </Link>
      )}
      <button
        type="button"
        className={small}
        aria-label={`Move ${m.name} up`}
        disabled={first}
        onClick={() => onMove(-1)}
      >
        <ArrowUp size={16} aria-hidden="true" />
      </button>
      <button
        type="button"
        className={small}
        aria-label={`Move ${m.name} down`}
        disabled={last}
        onClick={() => onMove(1)}
      >
        <ArrowDown size={16} aria-hidden="true" />
      </button>
      <button type="button" className={small} aria-label={`Remove ${m.name}`} onClick={onRemove}>
        <X size={16} aria-hidden="true" />
      </button>
    </li>
  );
}

function KnownWorksheets({ taken, onTake }: { taken: readonly Material[]; onTake(id: WorksheetId): void }) {
  const list = useQuery({ queryKey: keys.worksheets, queryFn: () => call('worksheets') });
  const free = (list.data ?? []).filter((w) => !taken.some((m) => m.worksheetId === w.id));
  if (free.length === 0) return null;
  return (
    <select
      className="quiet max-w-60"
      aria-label="Use a worksheet you made before"
      value=""
      onChange={(e) => e.target.value && onTake(e.target.value as WorksheetId)}
    >
      <option value="">A worksheet of yours …</option>
      {free.map((w) => (
        <option key={w.id} value={w.id}>
          {w.name}
        </option>
      ))}
    </select>
  );
}

function LinkToLookAt({ onAdd }: { onAdd(url: string, name: string): void }) {
  const [open, setOpen] = useState(false);
  const [url, setUrl] = useState('');
  const [name, setName] = useState('');
  const ids = [useId(), useId()] as const;
  if (!open)
    return (
      <button type="button" className="quiet" onClick={() => setOpen(true)}>
        Link to look at
      </button>
    );
  return (
    <form
      className="flex w-full flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        onAdd(withScheme(url), name.trim());
        setUrl('');
        setName('');
        setOpen(false);
      }}
    >
      <div className="min-w-60 flex-1">
        <label htmlFor={ids[0]} className="text-sm text-soft">
          Address
        </label>
        <input
          id={ids[0]}
          className="field"
          inputMode="url"
          value={url}
          onChange={(e) => setUrl(e.target.value)}
        />
      </div>
      <div className="w-48">
        <label htmlFor={ids[1]} className="text-sm text-soft">
          Name (optional)
        </label>
        <input
          id={ids[1]}
          className="field"
          maxLength={200}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </div>
      <button type="submit" className="quiet" disabled={!url.trim()}>
        Add the link
      </button>
    </form>
  );
}
