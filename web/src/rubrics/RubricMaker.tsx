import { formatPoints, type GridShape, mostOfRubric, RubricId, type RubricShape } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { addressOf, CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { SaveSign } from '../outbox/SaveSign.tsx';
import { plural } from '../time/words.ts';
import { addCriterion, addLevel, levelsAlike, setPoints } from './edit-rubric.ts';
import { RubricGrid } from './RubricGrid.tsx';
import { SlipPreview } from './SlipPreview.tsx';
import { TakeTable } from './TakeTable.tsx';
import { useRubricEdit } from './useRubricEdit.ts';

/** Who comes: a teacher on a Sunday, with levels in mind or a spreadsheet at hand. Writes cells, compares neighbours, sees how it will look on the slip. */
export function RubricMaker() {
  const parsed = RubricId.safeParse(useParams().rubricId);
  const rubric = useQuery({
    queryKey: keys.rubric(parsed.data ?? ('' as RubricId)),
    queryFn: () => call('rubric', { params: { rubricId: parsed.data! } }),
    enabled: parsed.success,
    refetchOnWindowFocus: false,
  });
  if (!parsed.success) return <Trouble error={new CallFailed('not-found')} />;
  if (rubric.error)
    return (
      <>
        <TopBar crumbs={[{ text: 'Rubrics', to: '/rubrics' }, { text: 'Rubric' }]} />
        <Trouble error={rubric.error} again={() => rubric.refetch()} />
      </>
    );
  return rubric.data ? <Loaded key={rubric.data.id} shape={rubric.data} /> : <Waiting what="the rubric" />;
}

function Loaded({ shape }: { shape: RubricShape }) {
  const edit = useRubricEdit(shape);
  const [pasted, setPasted] = useState<GridShape | null>(null);
  const { rubric } = edit;
  const most = mostOfRubric(rubric);
  const hasPoints = rubric.criteria.some((c) => c.levels.some((l) => l.points !== null));
  const readOnly = !shape.mine;
  const alike = levelsAlike(rubric);
  return (
    <div className="flex min-h-full flex-col">
      <TopBar
        crumbs={[
          { text: 'Today', to: '/' },
          { text: 'Rubrics', to: '/rubrics' },
          { text: edit.name || 'Rubric' },
        ]}
      >
        {!readOnly && (
          <SaveSign save={edit.busy || (edit.dirty && edit.whole) ? 'saving' : 'saved'} waiting={0} />
        )}
        <span className="text-sm text-soft">version {shape.number}</span>
        <span className="text-sm text-soft">Save as</span>
        {(['xlsx', 'ods', 'csv'] as const).map((as) => (
          <a
            key={as}
            className="text-sm text-action hover:underline"
            href={`${addressOf('rubricFile', { rubricId: shape.id })}?as=${as}`}
            download
            aria-label={`Save as ${as}`}
          >
            {as}
          </a>
        ))}
      </TopBar>
      <main className="flex flex-1 flex-wrap items-start gap-6 p-4">
        <section className="min-w-[560px] flex-1" aria-label="Rubric">
          <Notices shape={shape} edit={edit} />
          <div className="mb-3 flex flex-wrap items-center gap-3">
            <input
              aria-label="Name of the rubric"
              className="field !w-72 text-lg font-bold"
              maxLength={200}
              readOnly={readOnly}
              value={edit.name}
              onChange={(e) => edit.change({ name: e.target.value })}
            />
            {!readOnly && (
              <>
                <label className="flex items-center gap-2 text-sm">
                  <input
                    type="checkbox"
                    className="size-4 accent-action"
                    checked={hasPoints}
                    onChange={(e) => edit.change({ rubric: setPoints(rubric, e.target.checked) })}
                  />
                  Levels have points
                </label>
                <TakeTable
                  what="Use in place of these"
                  pasted={pasted}
                  onPasted={setPasted}
                  onTake={(taken, name) => edit.change({ rubric: taken, ...(name && { name }) })}
                />
              </>
            )}
          </div>
          <RubricGrid
            rubric={rubric}
            readOnly={readOnly}
            onChange={(next) => edit.change({ rubric: next })}
            onTable={setPasted}
          />
          <div className="mt-2 flex flex-wrap items-center gap-4 text-sm">
            {!readOnly && (
              <>
                <button
                  type="button"
                  className="text-action hover:underline"
                  disabled={rubric.criteria.length >= 50}
                  onClick={() => edit.change({ rubric: addCriterion(rubric) })}
                >
                  Add a criterion
                </button>
                {alike && (
                  <button
                    type="button"
                    className="text-action hover:underline"
                    disabled={rubric.criteria[0]!.levels.length >= 20}
                    onClick={() => edit.change({ rubric: addLevel(rubric, null) })}
                  >
                    Add a level
                  </button>
                )}
              </>
            )}
            <span className="text-soft tabular">
              {most === null
                ? 'No points: it tells where somebody stands.'
                : `${formatPoints(most)} points at most`}
            </span>
          </div>
          {shape.usedIn.length > 0 && (
            <p className="mt-4 text-sm text-soft">
              Used for{' '}
              {shape.usedIn.map((u, i) => (
                <span key={u.id}>
                  {i > 0 && ', '}
                  <Link to={`/assignments/${u.id}`} className="text-action hover:underline">
                    {u.className}: {u.title}
                  </Link>
                  {u.versionId !== shape.versionId && ' (an earlier version)'}
                </span>
              ))}
            </p>
          )}
        </section>
        <SlipPreview rubric={rubric} name={edit.name} />
      </main>
    </div>
  );
}

/** What is to be known before one changes it. */
function Notices({ shape, edit }: { shape: RubricShape; edit: ReturnType<typeof useRubricEdit> }) {
  return (
    <>
      {!shape.mine && (
        <p className="mb-3 rounded bg-raised p-3">
          This rubric is a colleague’s. You can use and save it; to change it, save it as a file and take it
          as your own.
        </p>
      )}
      {shape.mine && shape.handedOut && (
        <p className="mb-3 rounded bg-raised p-3 text-sm">
          Students see version {shape.number} on{' '}
          {plural(
            shape.usedIn.filter((u) => u.versionId === shape.versionId).length,
            'assignment',
            'assignments',
          )}
          . What you change becomes version {shape.number + 1}: what was scored keeps its own, until you
          switch the work over to the new one.
        </p>
      )}
      {edit.error && (
        <p role="alert" className="mb-3 rounded border border-caution bg-raised p-3 text-caution">
          {sentenceOf(edit.error)}{' '}
          {edit.error instanceof CallFailed && edit.error.code === 'changed-elsewhere' && (
            <button type="button" className="underline" onClick={edit.takeNewest}>
              Load the newest version
            </button>
          )}
        </p>
      )}
      {!edit.whole && (
        <p role="alert" className="mb-3 text-sm text-caution">
          Not saved yet: the rubric and every criterion need a name.
        </p>
      )}
    </>
  );
}
