import {
  type AssignmentId,
  type ChangeId,
  carryMarks,
  compareHandIns,
  type DocumentId,
  type Mark,
  type MarkId,
  type PageOf,
  type PageText,
  quoteOf,
} from '@jotmark/core';
import { handBack, newId, type Running, takeChanges } from '@jotmark/server';
import { atMost, type Figure, inTurn, median, timed } from './figures.ts';
import { benchClass, id, PASSWORD, stroke } from './school.ts';

const COPIES = 30;
const MARKS = 150;

/** Handing back: what it costs, how soon it is heard of; carrying marks over to a changed text, and comparing two. */
export async function backFigures(running: Running): Promise<Figure[]> {
  return [...(await givingBack(running)), carrying(), comparing()];
}

async function givingBack(running: Running): Promise<Figure[]> {
  const { house } = running;
  const { db } = house;
  const { login, copies, assignmentId } = await benchClass(running, COPIES, 0);
  const [teacher] = await db.query('SELECT * FROM person WHERE login = ?', [login]);
  for (const { handInId, documentId } of copies)
    await takeChanges(house, teacher, { handInId }, [
      ...Array.from({ length: MARKS }, (_, i) => ({
        id: newId<ChangeId>(house),
        base: null,
        type: 'put' as const,
        was: null,
        mark: stroke(documentId, i),
      })),
      { id: newId<ChangeId>(house), base: null, type: 'write', field: 'done', value: true, was: false },
    ]);
  const ids = copies.map((c) => c.copyId);
  const undo = () =>
    db.query('DELETE b FROM hand_back b JOIN copy c ON c.id = b.copy_id WHERE c.assignment_id = ?', [
      assignmentId,
    ]);
  const ours = async () => {
    await undo();
    return timed(() => handBack(house, teacher, assignmentId as AssignmentId, ids));
  };
  await ours();
  const rows: Record<string, unknown>[] = await db.query(
    'SELECT b.* FROM hand_back b JOIN copy c ON c.id = b.copy_id WHERE c.assignment_id = ?',
    [assignmentId],
  );
  const columns = Object.keys(rows[0]!);
  const bare = async () => {
    await undo();
    return timed(() =>
      db.transaction(async (tx) => {
        for (const row of rows)
          await tx.query(`INSERT INTO hand_back (${columns.join(', ')}) VALUES (?)`, [
            columns.map((c) => row[c]),
          ]);
      }),
    );
  };
  const [mine, baseline, ratio] = await inTurn(7, ours, bare);
  await undo();
  return [
    {
      what: `handing back ${COPIES} copies with ${MARKS} marks each`,
      ours: mine,
      baseline,
      ratio,
      against: 'the bare inserts',
      limit: 3,
    },
    await hearing(running, login, assignmentId, ids),
  ];
}

/** Thirty students have Jotmark open: from the teacher's request until each of them hears of it. */
async function hearing(
  running: Running,
  login: string,
  assignmentId: string,
  copyIds: readonly string[],
): Promise<Figure> {
  const { db } = running.house;
  const students: { login: string }[] = await db.query(
    'SELECT p.login FROM person p JOIN copy_member m ON m.person_id = p.id WHERE m.assignment_id = ?',
    [assignmentId],
  );
  const signIn = async (who: string) => {
    const reply = await fetch(`${running.address}/api/sign-in`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ login: who, password: PASSWORD }),
    });
    const { token } = (await reply.json()) as { token: string };
    return { cookie: reply.headers.get('set-cookie')!.split(';')[0]!, token };
  };
  let began = 0;
  const heard: Promise<number>[] = [];
  const lines: AbortController[] = [];
  for (const s of students) {
    const { cookie } = await signIn(s.login);
    const line = new AbortController();
    lines.push(line);
    const reply = await fetch(`${running.address}/api/news/live`, {
      headers: { cookie },
      signal: line.signal,
    });
    const reader = reply.body!.getReader();
    let text = '';
    // The first number only says how far it is; where there was no news there is none.
    const said = (async () => {
      for (;;) {
        const { value } = await reader.read();
        text += Buffer.from(value ?? []).toString();
        if (began && /data: /.test(text)) return performance.now() - began;
        if (!began) text = '';
      }
    })();
    heard.push(said);
  }
  await new Promise((r) => setTimeout(r, 1500));
  const { cookie, token } = await signIn(login);
  began = performance.now();
  await fetch(`${running.address}/api/piles/${assignmentId}/hand-back`, {
    method: 'POST',
    headers: { cookie, 'content-type': 'application/json', 'x-jotmark-token': token },
    body: JSON.stringify({ copyIds }),
  });
  const taken = (await Promise.all(heard)).sort((a, b) => a - b);
  for (const line of lines) line.abort();
  return atMost(
    `a hand-back is heard of, ${students.length} students at once (p95)`,
    taken[Math.floor(taken.length * 0.95)]!,
    2000,
  );
}

const WORDS =
  'count the squares again along first then up measure path which way slope face numbers lines bearing north south evidence compare both sides reason rule grid reference tenths ruler point hut light height'.split(
    ' ',
  );

/** Always the same. */
function chance(): (below: number) => number {
  let state = 7;
  return (below) => {
    state = (state * 1_103_515_245 + 12_345) & 0x7fffffff;
    return state % below;
  };
}

/** Pages of lines of ten words. */
function pagesOf(words: readonly string[], perPage: number): PageText[] {
  const out: PageText[] = [];
  for (let i = 0; i < words.length; i += perPage) {
    const some = words.slice(i, i + perPage).map((text, n) => {
      const [x, y] = [50 + (n % 10) * 50, 80 + Math.floor(n / 10) * 20];
      return { text, box: [x, y, x + 45, y + 14] as [number, number, number, number] };
    });
    out.push({
      words: some,
      lines: Array.from({ length: Math.ceil(some.length / 10) }, (_, k) => ({
        from: k * 10,
        to: Math.min(some.length, k * 10 + 10),
        box: [50, 78 + k * 20, 550, 96 + k * 20] as [number, number, number, number],
        along: 'x' as const,
      })),
    });
  }
  return out;
}

function changedText(words: number) {
  const next = chance();
  const word = () => WORDS[next(WORDS.length)]!;
  const before = Array.from({ length: words }, word);
  const after = before.flatMap((w) => (next(15) > 0 ? [w] : next(2) ? [word(), word()] : []));
  return { before, after, next };
}

const asHandIn = (pages: readonly PageText[]): PageOf[] => {
  const document = id<DocumentId>();
  return pages.map((text, page) => ({ document, page, text }));
};

function carrying(): Figure {
  const { before, after, next } = changedText(2400);
  const [was, is] = [asHandIn(pagesOf(before, 300)), asHandIn(pagesOf(after, 300))];
  const marks = Array.from({ length: 300 }, (): Mark => {
    const { document, page, text } = was[next(was.length)]!;
    const from = next(text.words.length - 6);
    const range = { from, to: from + 1 + next(4) };
    return {
      v: 2,
      id: id<MarkId>(),
      document,
      page,
      colour: 'lake',
      focus: null,
      madeAt: 1,
      kind: 'note',
      words: 'Why?',
      place: { on: 'passage', bands: [[50, 80, 100, 94]], quote: quoteOf(text, range) },
    };
  });
  const taken = Array.from({ length: 20 }, () => {
    const start = performance.now();
    carryMarks(marks, was, is);
    return performance.now() - start;
  });
  return atMost('300 marks carried over to a changed text of 8 pages', median(taken), 100);
}

function comparing(): Figure {
  const { before, after } = changedText(2000);
  const [was, is] = [asHandIn(pagesOf(before, 300)), asHandIn(pagesOf(after, 300))];
  const taken = Array.from({ length: 20 }, () => {
    const start = performance.now();
    compareHandIns(was, is);
    return performance.now() - start;
  });
  return atMost('two hand-ins of 2,000 words compared', median(taken), 50);
}
