import { AssignmentId, type AssignmentSheet, type RichText } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useId, useRef, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { off } from '../frame/off.ts';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { toast } from '../frame/toast.ts';
import { RichEditor } from '../rich/RichEditor.tsx';
import { plural } from '../time/words.ts';
import { SetAgain } from './AssignmentList.tsx';
import { AudienceFields } from './AudienceFields.tsx';
import { FamilyAddress } from './FamilyAddress.tsx';
import { Materials } from './Materials.tsx';
import { ScoringPart } from './ScoringPart.tsx';
import { SetDialog } from './SetDialog.tsx';
import { StudentTerms } from './StudentTerms.tsx';
import { Terms } from './Terms.tsx';
import { TogetherPart } from './TogetherPart.tsx';
import { TrialPart } from './TrialPart.tsx';
import { type AssignmentEdit, useAssignmentEdit } from './useAssignmentEdit.ts';
import { savedSentence, whatChanged } from './what-changed.ts';

/** Who comes: a teacher planning a lesson, or correcting what is out. Fills in from the top, sees who gets it and when, sets it. */
export function AssignmentRoute() {
  const parsed = AssignmentId.safeParse(useParams().assignmentId);
  const sheet = useQuery({
    queryKey: keys.assignment(parsed.data ?? ('' as AssignmentId)),
    queryFn: () => call('assignment', { params: { assignmentId: parsed.data! } }),
    enabled: parsed.success,
    // What is being written must not be pulled away under the hands; saving compares revisions.
    refetchOnWindowFocus: false,
    // While worksheets are still becoming pages.
    refetchInterval: (query) =>
      query.state.data?.materials.some((m) =>
        ['queued', 'running'].includes(m.document?.reading.state ?? 'done'),
      )
        ? 1500
        : false,
  });
  if (!parsed.success || sheet.error || !sheet.data)
    return (
      <>
        <TopBar crumbs={[{ text: 'Classes', to: '/classes' }, { text: 'Work' }]} />
        {!parsed.success || sheet.error ? (
          <Trouble error={sheet.error ?? new CallFailed('not-found')} again={() => sheet.refetch()} />
        ) : (
          <Waiting what="the work" />
        )}
      </>
    );
  return <AssignmentView key={sheet.data.id} sheet={sheet.data} />;
}

function AssignmentView({ sheet }: { sheet: AssignmentSheet }) {
  const navigate = useNavigate();
  const tell = useTell();
  // From the worksheet’s questions one comes here to hand out.
  const [params, setParams] = useSearchParams();
  const [setting, setSetting] = useState(
    sheet.stage === 'draft' && params.has('hand-out') && sheet.words.title.trim() !== '',
  );
  const edit = useAssignmentEdit(sheet);
  const { words, audience, draft, dirty, change } = edit;
  return (
    <>
      <TopBar
        crumbs={[
          { text: 'Classes', to: '/classes' },
          { text: sheet.className, to: `/classes/${sheet.classId}` },
          { text: words.title || 'New work' },
        ]}
      >
        <span role="status" className="text-sm text-soft">
          {draft
            ? !words.title.trim()
              ? 'Give it a title to hand it out'
              : dirty
                ? 'Saving …'
                : 'Draft, saved'
            : dirty
              ? 'Not saved yet'
              : ''}
        </span>
        {draft ? (
          <button
            type="button"
            className="act"
            {...off(!words.title.trim() && 'It needs a title first.')}
            onClick={() => setSetting(true)}
          >
            Hand out …
          </button>
        ) : (
          <Link to={`/piles/${sheet.id}`} className="quiet">
            To the pile
          </Link>
        )}
      </TopBar>
      <main className="mx-auto grid max-w-6xl gap-6 p-6 lg:grid-cols-[1fr_20rem]">
        <div className="min-w-0 space-y-6">
          <Refused edit={edit} />
          <Title value={words.title} onChange={(title) => change({ title })} />
          <section aria-label="Instructions">
            <h2 className="mb-1 font-bold">Instructions</h2>
            <RichEditor
              label="Instructions"
              value={words.instructions}
              assignmentId={sheet.id}
              onChange={(instructions: RichText) => change({ instructions })}
            />
          </section>
          <Materials
            sheet={sheet}
            most={words.most}
            onUsePoints={(most) => change({ most })}
            before={edit.keepNow}
            onChanged={edit.show}
          />
        </div>
        <aside className="space-y-6" aria-label="Dates, points and students">
          <Terms classId={sheet.classId} words={words} draft={draft} onChange={change} />
          <ScoringPart
            sheet={sheet}
            before={draft ? edit.keepNow : async () => {}}
            onMost={(most) => change({ most })}
          />
          <TogetherPart sheet={sheet} draft={draft} onChanged={edit.show} />
          <TrialPart sheet={sheet} before={draft ? edit.keepNow : async () => {}} onChanged={edit.show} />
          {draft ? (
            <AudienceFields sheet={sheet} audience={audience} onChange={edit.setAudience} />
          ) : (
            <>
              {dirty && <SaveChange sheet={sheet} edit={edit} />}
              <StudentTerms sheet={sheet} onChanged={edit.show} />
              <FamilyAddress sheet={sheet} onChanged={edit.show} />
              <section aria-label="Hand out again">
                <h2 className="mb-2 font-bold">Hand out again to</h2>
                <SetAgain assignmentId={sheet.id} classId={sheet.classId} />
              </section>
            </>
          )}
        </aside>
      </main>
      <SetDialog
        open={setting}
        sheet={sheet}
        audience={audience}
        words={words}
        before={edit.keepNow}
        onClose={() => {
          setSetting(false);
          setParams({}, { replace: true });
        }}
        onSet={(copies, opensAt) => {
          setSetting(false);
          tell('assignmentMoved', {});
          toast.success(
            opensAt
              ? `Opens later: ${plural(copies, 'copy is', 'copies are')} ready.`
              : `Handed out: ${plural(copies, 'copy', 'copies')}.`,
          );
          navigate(`/classes/${sheet.classId}`);
        }}
      />
    </>
  );
}

/** Why the last edit was not kept, and the way out. */
function Refused({ edit }: { edit: AssignmentEdit }) {
  const { error } = edit;
  if (!error) return null;
  return (
    <div role="alert" className="rounded-lg border border-caution bg-raised p-4">
      <p>{sentenceOf(error)}</p>
      {error instanceof CallFailed && error.code === 'changed-elsewhere' && (
        <button type="button" className="quiet mt-3" onClick={edit.takeNewest}>
          Load the newest, discard mine
        </button>
      )}
    </div>
  );
}

/** What students see already changes only when one says so, with a word to them or without. */
function SaveChange({ sheet, edit }: { sheet: AssignmentSheet; edit: AssignmentEdit }) {
  const { clock } = useHere();
  const [news, setNews] = useState('');
  return (
    <section className="rounded-lg border border-action bg-raised p-4" aria-label="Save changes">
      <label className="block">
        <span className="text-sm text-soft">Tell the students what changed (optional)</span>
        <textarea
          className="field mt-1"
          value={news}
          maxLength={1000}
          onChange={(e) => setNews(e.target.value)}
        />
      </label>
      <p className="mt-2 text-sm text-soft">What has been handed in stays as it was.</p>
      <div className="mt-3 flex gap-2">
        <button
          type="button"
          className="act"
          disabled={edit.busy}
          onClick={() => {
            const said = savedSentence(
              whatChanged(sheet.words, edit.words, (at) => clock.moment(at, Date.now())),
              news.trim() !== '',
            );
            edit.saveNow(news.trim() || null, () => {
              setNews('');
              toast.success(said);
            });
          }}
        >
          {news.trim() ? 'Save and tell them' : 'Save'}
        </button>
        <button type="button" className="quiet" onClick={edit.drop}>
          Discard
        </button>
      </div>
    </section>
  );
}

function Title({ value, onChange }: { value: string; onChange(title: string): void }) {
  const field = useId();
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (input.current?.value === '') input.current.focus();
  }, []);
  return (
    <div>
      <label htmlFor={field} className="font-bold">
        Title
      </label>
      <input
        ref={input}
        id={field}
        className="field mt-1 text-xl font-bold"
        maxLength={200}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </div>
  );
}
