import { WorksheetId, type WorksheetShape } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Redo2, Undo2 } from 'lucide-react';
import { Link, useParams, useSearchParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { IconButton } from '../frame/IconButton.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { NO_PAGES } from '../paper/Enclosures.tsx';
import { PageSheet } from '../paper/PageSheet.tsx';
import { MakerSide } from './MakerSide.tsx';
import { RegionLayer } from './RegionLayer.tsx';
import { type Maker, useMaker } from './useMaker.ts';

/** Who comes: a teacher whose file has become pages. Takes the places found, mends a few, sees the points add up. */
export function WorksheetRoute() {
  const parsed = WorksheetId.safeParse(useParams().worksheetId);
  const worksheet = useQuery({
    queryKey: keys.worksheet(parsed.data ?? ('' as WorksheetId)),
    queryFn: () => call('worksheet', { params: { worksheetId: parsed.data! } }),
    enabled: parsed.success,
    refetchOnWindowFocus: false,
    refetchInterval: (query) => {
      const document = query.state.data?.document;
      return document?.shows === 'pages' && ['queued', 'running'].includes(document.reading.state)
        ? 700
        : false;
    },
  });
  const data = worksheet.data;
  const reading = data?.document.reading.state;
  const bar = (
    <TopBar crumbs={[{ text: 'Worksheets', to: '/worksheets' }, { text: data?.name ?? 'Worksheet' }]} />
  );
  if (!parsed.success || worksheet.error)
    return (
      <>
        {bar}
        <Trouble error={worksheet.error ?? new CallFailed('not-found')} again={() => worksheet.refetch()} />
      </>
    );
  if (!data || reading === 'queued' || reading === 'running')
    return (
      <>
        {bar}
        <Making progress={data?.document.reading ?? null} />
      </>
    );
  if (data.document.shows !== 'pages' || reading === 'failed')
    return (
      <>
        {bar}
        <p role="alert" className="mx-auto mt-16 max-w-xl rounded-lg bg-raised p-8 shadow-sm">
          {NO_PAGES[data.document.trouble ?? 'not-converted']}
        </p>
      </>
    );
  return <WorksheetMaker key={data.id} worksheet={data} />;
}

function Making({ progress }: { progress: { done: number; total: number } | null }) {
  return (
    <div role="status" className="mx-auto mt-24 w-72 text-center text-soft">
      Making the pages{progress?.total ? `: ${progress.done} of ${progress.total}` : ' …'}
      <progress className="mt-3 w-full" max={progress?.total || 1} value={progress?.done ?? 0} />
    </div>
  );
}

function WorksheetMaker({ worksheet }: { worksheet: WorksheetShape }) {
  const forAssignment = useSearchParams()[0].get('for');
  const m = useMaker(worksheet);
  const { error, saving, canUndo, canRedo, undo, redo } = m.editing;
  return (
    <div className="flex h-full flex-col">
      <TopBar
        crumbs={[
          forAssignment
            ? { text: 'Back to the work', to: `/assignments/${forAssignment}` }
            : { text: 'Worksheets', to: '/worksheets' },
          { text: worksheet.name },
        ]}
      >
        <span role="status" className="text-sm text-soft">
          {error ? 'Not saved' : saving ? 'Saving …' : 'Saved'}
        </span>
        <span className="flex text-soft">
          <IconButton label="Undo" icon={Undo2} disabled={!canUndo} onClick={undo} />
          <IconButton label="Redo" icon={Redo2} disabled={!canRedo} onClick={redo} />
        </span>
        {forAssignment && (
          <Link to={`/assignments/${forAssignment}?hand-out`} className="act">
            Hand out …
          </Link>
        )}
      </TopBar>
      <main className="flex min-h-0 flex-1 max-sm:flex-col max-sm:overflow-y-auto">
        <Pages m={m} />
        <MakerSide m={m} forAssignment={forAssignment} />
      </main>
    </div>
  );
}

function Pages({ m }: { m: Maker }) {
  return (
    <div
      ref={m.scroller}
      data-scroller
      tabIndex={-1}
      role="region"
      aria-label="Pages of the worksheet"
      className="min-w-0 flex-1 overflow-auto p-5 pl-12 max-sm:h-[48dvh] max-sm:flex-none"
    >
      {!m.ready && <Waiting what="the pages" />}
      {m.measured && (
        <div className="mx-auto flex w-max flex-col gap-5">
          {m.pages.map((p, i) => (
            <div key={p.page} className="shadow-md">
              <PageSheet
                document={p.document}
                page={p.page}
                index={i}
                frame={p.frame}
                turn={p.turn}
                zoom={m.zoom}
                marks={NO_MARKS}
                label={`Page ${i + 1} of ${m.pages.length}`}
              >
                <RegionLayer
                  page={p}
                  zoom={m.zoom}
                  questions={m.onPage[i] ?? []}
                  numbers={m.numbers}
                  chosen={m.chosen}
                  offered={m.free.filter((o) => o.page === p.page)}
                  onChoose={m.choose}
                  onDraw={(box) => m.add(p.page, box)}
                  onBoxes={m.boxes}
                  onTake={m.take}
                />
              </PageSheet>
            </div>
          ))}
        </div>
      )}
    </div>
  );
}

const NO_MARKS: never[] = [];
