import { trayOut } from '@jotmark/core';
import { use, useMemo } from 'react';
import { type InAgain, InAgainContext } from '../again/useInAgain.ts';
import { talksOf } from '../conversation/talk.ts';
import { useMessages } from '../conversation/useMessages.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { useHere } from '../frame/session.tsx';
import { FirstCopy } from '../slip/FirstCopy.tsx';
import { Focuses } from '../slip/Focuses.tsx';
import { ScoreSlip } from '../slip/ScoreSlip.tsx';
import { SlipFoot } from '../slip/SlipFoot.tsx';
import { SlipVoice } from '../slip/SlipVoice.tsx';
import { Thrift } from '../slip/Thrift.tsx';
import { lateWords } from '../time/words.ts';
import { PageStrip } from './PageStrip.tsx';
import { PileStrip } from './PileStrip.tsx';
import type { DeskNow } from './useDesk.ts';

/** What lies beside the copy is loaded only when it is asked for. */
const BankShelf = onDemand(() => import('../bank/BankShelf.tsx').then((m) => m.BankShelf));
const ScoresPart = onDemand(() => import('../scores/ScoresPart.tsx').then((m) => m.ScoresPart));
/** Only of a copy that came in again. */
const BecamePart = onDemand(() => import('../again/BecamePart.tsx').then((m) => m.BecamePart));
const ChangedPart = onDemand(() => import('../again/ChangedPart.tsx').then((m) => m.ChangedPart));
const Beside = onDemand(() => import('../beside/Beside.tsx').then((m) => m.Beside));

/** What lies left of the paper: the pile, the pages small. */
export function LeftOfPaper({ d }: { d: DeskNow }) {
  const { layout, paper } = d;
  if (layout.only !== null) return null;
  return (
    <>
      {layout.strip &&
        (d.paperSeen ? (
          <PileStrip
            rows={d.place.rows}
            here={d.desk.copyId}
            say={d.scoring.say}
            width={layout.sizes.strip}
            onWidth={d.sizes.strip}
          />
        ) : (
          <div className="shrink-0 border-r border-line bg-tray" style={{ width: layout.sizes.strip }} />
        ))}
      {layout.pages && paper.ready && (
        <PageStrip pages={paper.pages} byPage={d.marks.byPage} now={paper.pageNow} onGo={d.does.onPage} />
      )}
    </>
  );
}

/** What lies right of it: something to compare with, and the slip. */
export function RightOfPaper({ d }: { d: DeskNow }) {
  const { layout } = d;
  const slip = layout.only === null ? layout.slip : layout.only === 'slip';
  return (
    <>
      {d.twoSides && layout.only !== 'slip' && (
        <Beside
          copyId={d.desk.copyId}
          documents={d.desk.documents}
          share={layout.sizes.beside}
          onShare={d.sizes.beside}
          onClose={d.does.onBeside}
        />
      )}
      {d.bankOut && layout.only === null && (
        <BankShelf
          bank={d.phrases.bank}
          armed={d.phrases.armed}
          onArm={d.phrases.arm}
          onClose={d.does.onBank}
        />
      )}
      {slip &&
        (d.paperSeen || layout.only === 'slip' ? (
          <Slip d={d} />
        ) : (
          <div className="shrink-0" style={{ width: layout.sizes.slip }} />
        ))}
    </>
  );
}

function Slip({ d }: { d: DeskNow }) {
  const { clock } = useHere();
  const { desk, keeper, readOnly, layout, does } = d;
  const { sheet, looksBack } = d.stands;
  const { number, late, claimedAt, by } = desk.handIn;
  const about = [
    `hand-in ${number}`,
    lateWords(late) ?? 'on time',
    by !== null && `handed in by ${by}`,
    claimedAt !== null && `without a network; by the device ${clock.moment(claimedAt, Date.now())}`,
  ]
    .filter(Boolean)
    .join(' · ');
  const closing = d.words.closing.draft?.words ?? null;
  const slip = useMemo(
    () =>
      closing === null ? sheet.slip : { ...sheet.slip, closing: { ...sheet.slip.closing, value: closing } },
    [sheet.slip, closing],
  );
  const marks = d.marks.shown;
  const pens = d.hand.trays ? trayOut(d.hand.trays.trays).pens : null;
  const foot = useMemo(
    () => (
      <>
        {pens && !readOnly && !looksBack && <FirstCopy pens={pens} />}
        <Focuses marks={marks} changes={!readOnly && !looksBack} />
        {!readOnly && !looksBack && <Thrift marks={marks} onGather={does.onGather} />}
        <SlipFoot
          desk={desk}
          keeper={keeper}
          readOnly={readOnly}
          looksBack={looksBack}
          onLookBack={does.onLookBack}
        />
      </>
    ),
    [pens, desk, keeper, readOnly, looksBack, does, marks],
  );
  const size = useMemo(
    () => (layout.only === 'slip' ? null : { width: layout.sizes.slip, onWidth: d.sizes.slip }),
    [layout.only, layout.sizes.slip, d.sizes.slip],
  );
  const said = sheet.slip.voice.value;
  const talk = d.voice.does;
  const open = !readOnly && !looksBack;
  const voice = useMemo(
    () => <SlipVoice recording={said} open={open} onRecord={talk.onCopy} onChange={talk.onSaid} />,
    [said, open, talk],
  );
  const { site, answers, onSee, acrossTo, onDraw } = d.scoring;
  const again = use(InAgainContext);
  const scores = (
    <>
      {again && <AgainPart d={d} again={again} fixed={!open} />}
      <ScoresPart
        site={site}
        keeper={keeper}
        sheetId={desk.handIn.id}
        sheet={sheet}
        marks={marks}
        round="final"
        answers={answers}
        readOnly={!open}
        gradeRef={d.fields.grade}
        onSee={onSee}
        acrossTo={acrossTo}
        onDraw={onDraw}
      />
    </>
  );
  return (
    <ScoreSlip
      about={about}
      slip={slip}
      marks={marks}
      selected={d.marks.picked}
      state={readOnly ? 'handed-back' : looksBack ? 'past' : 'open'}
      last={!d.place.next}
      size={size}
      parts={{ scores, voice }}
      closingRef={d.fields.closing}
      does={does}
    >
      {foot}
    </ScoreSlip>
  );
}

/** At the top of the slip of a copy that came in again: what changed, and what became of each note. */
function AgainPart({ d, again, fixed }: { d: DeskNow; again: InAgain; fixed: boolean }) {
  const said = useMessages(d.desk.copyId);
  const talks = useMemo(() => talksOf(said ?? []), [said]);
  return (
    <div className="mt-4">
      <ChangedPart again={again} desk={d.desk} onPage={d.does.onPage} />
      <BecamePart
        again={again}
        talks={talks}
        fixed={fixed}
        student={d.desk.student.given || 'The student'}
        onSee={({ now }) => now && d.paper.bring(now)}
      />
    </div>
  );
}
