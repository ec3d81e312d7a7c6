import 'fake-indexeddb/auto';
import {
  type BatchAnswer,
  type Change,
  type ChangeId,
  type CopyId,
  type HandInId,
  type MessageId,
  makeId,
  type PersonId,
  type QuestionId,
} from '@jotmark/core';
import { openDB } from 'idb';
import { beforeEach, describe, expect, test, vi } from 'vitest';
import { CallFailed } from '../api/call.ts';
import { type Clash, Device } from './device.ts';
import { Lane } from './lane.ts';
import { leaveLastWords } from './last-words.ts';
import { type Letter, nextBatch, wordsLane } from './letter.ts';
import { looseLane } from './loose-lane.ts';
import { outbox } from './outbox.ts';
import { copyPost, markingPost, teacherPost } from './posts.ts';

let tick = 1;
const id = <T extends string>() => makeId(tick++, crypto.getRandomValues(new Uint8Array(10))) as T;
const handInId = id<HandInId>();
const copyId = id<CopyId>();
let names = 0;
let device: Device;
beforeEach(async () => {
  localStorage.clear();
  device = await Device.open(`box-${names++}`);
});

const grade = (value: number, base: ChangeId | null = null, was: number | null = null): Change => ({
  id: id<ChangeId>(),
  base,
  type: 'write',
  field: 'grade',
  value,
  was,
});
const word = (words: string): Letter => ({ type: 'word', id: id<MessageId>(), words, place: null });
const answer = (outcomes: BatchAnswer['results'][number]['outcome'][], changes: readonly Change[]) =>
  ({
    seq: 1,
    results: changes.map((c, i) => ({ id: c.id, outcome: outcomes[i]!, reason: null, seq: null })),
    current: null,
  }) as BatchAnswer;
const handIn = (): Letter => ({ type: 'hand-in', id: id<HandInId>(), cover: '', claimedAt: 5 });

/** Resolves when `holds` does, looked at whenever the lane says that something changed. */
function world() {
  const looks = new Set<() => void>();
  return {
    changed: () => {
      for (const look of looks) look();
    },
    until: (holds: () => boolean) =>
      new Promise<void>((resolve) => {
        const look = () => {
          if (!holds()) return;
          looks.delete(look);
          resolve();
        };
        looks.add(look);
        look();
      }),
  };
}

function laneOf(send: (batch: readonly Letter[], waited: boolean) => Promise<void>, lane = 'l') {
  const w = world();
  const alarms: (() => void)[] = [];
  const made: Lane = new Lane({
    personId: 'p',
    lane,
    device,
    send: async (batch, waited) => {
      await send(batch, waited);
      await made.drop(new Set(batch.map((l) => l.id)));
    },
    later: (work) => alarms.push(work),
    changed: w.changed,
  });
  return { lane: made, alarms, until: w.until };
}

describe('a lane', () => {
  test('a batch is changes, or one of anything else, and keeps the order', () => {
    const [a, b, c] = [grade(1), grade(2), grade(3)];
    const done = handIn();
    expect(nextBatch([a, b, done, c])).toEqual([a, b]);
    expect(nextBatch([done, c])).toEqual([done]);
    expect(nextBatch(Array.from({ length: 450 }, () => a))).toHaveLength(200);
  });

  test('a hand-in goes behind what was written, and knows whether it had to wait', async () => {
    const sent: [string, boolean][] = [];
    let cut = false;
    const { lane, alarms, until } = laneOf(async (batch, waited) => {
      if (cut) throw new CallFailed('offline');
      for (const l of batch) sent.push([l.type, waited]);
    });
    await lane.join();
    lane.put([grade(1)]);
    lane.put([handIn()]);
    await until(() => lane.save === 'saved');
    expect(sent).toEqual([
      ['write', false],
      ['hand-in', false],
    ]);
    cut = true;
    lane.put([handIn()]);
    await until(() => lane.save === 'kept');
    cut = false;
    alarms.shift()!();
    await until(() => lane.save === 'saved');
    expect(sent.at(-1)).toEqual(['hand-in', true]);
  });

  test('a letter that is neither settled nor refused is not sent in a loop', async () => {
    let times = 0;
    const w = world();
    const lane = new Lane({
      personId: 'p',
      lane: 'odd',
      device,
      send: async () => {
        times++;
      },
      later: () => {},
      changed: w.changed,
    });
    await lane.join();
    lane.put([word('x')]);
    await w.until(() => lane.save === 'kept');
    expect(times).toBe(1);
  });

  test('closed, it sends nothing more, and another finds all that waits', async () => {
    const first = laneOf(() => Promise.reject(new CallFailed('offline')));
    await first.lane.join();
    first.lane.put([word('one')]);
    await first.until(() => first.lane.save === 'kept');
    await first.lane.close();
    const sent: Letter[] = [];
    const second = laneOf(async (batch) => void sent.push(...batch));
    await second.lane.join();
    await second.until(() => second.lane.save === 'saved' && sent.length > 0);
    expect(sent).toMatchObject([{ words: 'one' }]);
    first.alarms.shift()?.();
    expect(first.lane.waiting).toHaveLength(1);
  });
});

describe('a lane of which no sheet is open', () => {
  test('what met another change lies on the device for its author to choose; the rest is committed', async () => {
    const aside: Clash[] = [];
    const committed: string[] = [];
    const w = world();
    const lane = looseLane({
      personId: 'p',
      lane: handInId,
      device,
      post: {
        send: async (_, changes) => answer(['applied', 'conflict'], changes),
        since: () => Promise.reject(new Error('nobody asks')),
      },
      later: () => {},
      changed: w.changed,
      say: () => Promise.reject(new Error('no words')),
      bank: async () => {},
      heard: async () => {},
      committed: (changes) => committed.push(...changes.map((c) => c.id)),
      setAside: (clash) => aside.push(clash),
    });
    await lane.written();
    const [fine, late] = [grade(700), grade(800)];
    lane.put([fine, late]);
    await w.until(() => lane.save === 'saved');
    expect(committed).toEqual([fine.id]);
    expect(aside).toMatchObject([{ why: 'conflict', mine: late }]);
    expect(await device.clashes('p', handInId)).toMatchObject([{ mine: late }]);
    expect(await device.kept('p', handInId)).toEqual([]);
  });

  test('one that the server cannot read holds up no other', async () => {
    const [odd, fine] = [grade(-1), grade(900)];
    const aside: Clash[] = [];
    const committed: string[] = [];
    const w = world();
    const lane = looseLane({
      personId: 'p',
      lane: handInId,
      device,
      post: {
        async send(_, changes) {
          if (changes.includes(odd)) throw new CallFailed('bad-input');
          return answer(['applied'], changes);
        },
        since: () => Promise.reject(new Error('nobody asks')),
      },
      later: () => {},
      changed: w.changed,
      say: () => Promise.reject(new Error('no words')),
      bank: async () => {},
      heard: async () => {},
      committed: (changes) => committed.push(...changes.map((c) => c.id)),
      setAside: (clash) => aside.push(clash),
    });
    await lane.written();
    lane.put([odd, fine]);
    await w.until(() => lane.save === 'saved');
    expect(committed).toEqual([fine.id]);
    expect(aside).toMatchObject([{ mine: odd, why: 'bad-input' }]);
  });
});

describe('the outbox of a tab', () => {
  test('grades typed into one cell without a network build on each other; words wait beside them; another person sees none of it', async () => {
    const p = id<PersonId>();
    const first = id<ChangeId>();
    await outbox.begin(p, false);
    const write = (value: number) =>
      outbox.writeSlip({ sheetId: handInId, field: 'grade', value, was: 100, base: first });
    await write(700);
    await write(750);
    await write(750);
    await outbox.say(copyId, word('a word') as never);
    const [one, two] = outbox.waitingIn(handInId) as Extract<Change, { type: 'write' }>[];
    expect(one).toMatchObject({ base: first, was: 100, value: 700 });
    expect(two).toMatchObject({ base: one!.id, was: 700, value: 750 });
    expect(outbox.waitingIn(wordsLane(copyId))).toMatchObject([{ words: 'a word' }]);
    expect(outbox.standing.waiting).toBe(3);
    await outbox.begin(id<PersonId>(), false);
    expect(outbox.waitingIn(handInId)).toEqual([]);
    expect(outbox.standing).toEqual({ save: 'saved', waiting: 0 });
    // Back again: it was kept.
    await outbox.begin(p, false);
    await outbox.lane(handInId).written();
    expect(outbox.waitingIn(handInId)).toHaveLength(2);
    outbox.end();
  });

  test('a grade taken back after the server has it builds on what was sent, though the list still shows what was before', async () => {
    await outbox.begin(id<PersonId>(), false);
    const [sheet, first] = [id<HandInId>(), id<ChangeId>()];
    const sent: Change[] = [];
    vi.stubGlobal('fetch', async (_: unknown, init: RequestInit) => {
      const { changes } = JSON.parse(String(init.body)) as { changes: Change[] };
      sent.push(...changes);
      return new Response(JSON.stringify(answer(['applied'], changes)));
    });
    const write = (value: number | null) =>
      outbox.writeSlip({ sheetId: sheet, field: 'grade', value, was: null, base: first });
    await write(800);
    await vi.waitFor(() => expect(outbox.waitingIn(sheet)).toEqual([]), 5000);
    await write(null);
    await vi.waitFor(() => expect(sent).toHaveLength(2));
    expect(sent[1]).toMatchObject({ base: sent[0]!.id, was: 800, value: null });
    outbox.end();
    vi.unstubAllGlobals();
  });

  test('what a tab left in haste is taken up by the next one, though the browser’s database never heard of it, and by one that is open', async () => {
    const p = id<PersonId>();
    const [mine, copyBeside] = [grade(1), id<CopyId>()];
    leaveLastWords(p, handInId, [mine]);
    leaveLastWords(id<PersonId>(), copyBeside, [grade(2)]);
    await outbox.begin(p, false);
    await outbox.lane(handInId).written();
    expect(outbox.waitingIn(handInId)).toEqual([mine]);
    expect(outbox.standing.waiting).toBe(1);

    const late = grade(3);
    leaveLastWords(p, copyBeside, [late]);
    const [key] = Object.keys(localStorage).filter((k) => k.endsWith(copyBeside) && k.includes(p));
    outbox.heir(new StorageEvent('storage', { key: key!, newValue: localStorage.getItem(key!) }));
    await outbox.lane(copyBeside).written();
    expect(outbox.waitingIn(copyBeside)).toEqual([late]);
    outbox.end();
  });
});

test('changes of one answer of a copy that is not open build on each other, also before the server’s word of the first is here', async () => {
  const question = id<QuestionId>();
  const version = id<ChangeId>();
  await outbox.begin(id<PersonId>(), true);
  const said = [{ question, value: 'the rode is steep', version }];
  const swap = (from: string, to: string) =>
    outbox.changeAnswer(copyId, said, (answers) => {
      const text = answers.get(question)!;
      return text.includes(from) ? { question, text: text.replace(from, to) } : null;
    });
  expect(await swap('rode', 'road')).toBe(true);
  expect(await swap('steep', 'gentle')).toBe(true);
  expect(await swap('rode', 'road')).toBe(false);
  const lane = outbox.lane(copyId);
  const [one, two] = lane.waiting as Extract<Change, { type: 'answer' }>[];
  expect(one).toMatchObject({ base: version, was: 'the rode is steep', value: 'the road is steep' });
  expect(two).toMatchObject({ base: one!.id, was: 'the road is steep', value: 'the road is gentle' });
  await lane.drop(new Set([one!.id, two!.id]));
  // Both are sent; the view still has the server’s word of before.
  expect(await swap('gentle', 'easy')).toBe(true);
  expect(lane.waiting).toMatchObject([{ base: two!.id, value: 'the road is easy' }]);
  outbox.end();
});

describe('the browser’s database', () => {
  test('what its second form kept is taken along, in order, a waiting hand-in behind the changes', async () => {
    const name = `old-${names++}`;
    const old = await openDB(name, 2, {
      upgrade(db) {
        db.createObjectStore('outbox', { keyPath: 'order', autoIncrement: true }).createIndex('sheet', [
          'personId',
          'sheetId',
        ]);
        db.createObjectStore('history');
        db.createObjectStore('clash', { keyPath: ['personId', 'sheetId', 'subject'] }).createIndex('sheet', [
          'personId',
          'sheetId',
        ]);
        db.createObjectStore('handIn', { keyPath: ['personId', 'copyId'] });
      },
    });
    const changes = [grade(1), grade(2)];
    for (const change of changes) await old.add('outbox', { personId: 'p', sheetId: copyId, change });
    const mine = grade(3);
    const clash = { personId: 'p', sheetId: copyId, subject: 'slip:grade', mine, why: 'conflict' };
    await old.add('clash', clash);
    const waits = { id: id<HandInId>(), cover: 'sorry', claimedAt: 7 };
    await old.add('handIn', { personId: 'p', copyId, ...waits });
    old.close();
    const now = await Device.open(name);
    expect(await now.kept('p', copyId)).toEqual([...changes, { type: 'hand-in', ...waits }]);
    expect(await now.clashes('p', copyId)).toEqual([clash]);
    expect(await now.waiting('p')).toEqual([copyId]);
  });

  test('what its first form kept is taken along as well', async () => {
    const name = `older-${names++}`;
    const old = await openDB(name, 1, {
      upgrade(db) {
        db.createObjectStore('outbox', { keyPath: 'order', autoIncrement: true });
        db.createObjectStore('history');
        db.createObjectStore('clash', { keyPath: ['personId', 'handInId', 'subject'] });
      },
    });
    const change = grade(1);
    await old.add('outbox', { personId: 'p', handInId, change });
    old.close();
    expect(await (await Device.open(name)).kept('p', handInId)).toEqual([change]);
  });
});

test('a teacher’s own copy in a trial run is a sheet of its own, and travels as a student’s copy does', async () => {
  const sent: string[] = [];
  vi.stubGlobal('fetch', async (address: string) => {
    sent.push(address);
    return new Response(JSON.stringify({ results: [], seq: 0 }));
  });
  await outbox.begin(id<PersonId>(), false);
  expect(outbox.ownSheet(copyId)).toBe(`trial:${copyId}`);
  const own = teacherPost(markingPost({} as never), copyPost({ handedIn: () => {}, refused: () => {} }));
  // What comes back is no answer of the server's; where it was asked is what counts.
  await own.send(`trial:${copyId}`, []).catch(() => {});
  await own.since(`trial:${copyId}`, 0).catch(() => {});
  await own.since(`alone:${copyId}`, 0).catch(() => {});
  expect(sent.map((s) => s.replace(copyId, ':copy'))).toEqual([
    '/api/work/:copy/changes',
    '/api/work/:copy/changes?after=0',
    '/api/copies/:copy/marking?after=0',
  ]);
  await outbox.begin(id<PersonId>(), true);
  expect(outbox.ownSheet(copyId)).toBe(copyId);
  vi.unstubAllGlobals();
});
