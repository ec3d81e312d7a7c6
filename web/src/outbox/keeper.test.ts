import 'fake-indexeddb/auto';
import {
  applyAll,
  type BatchAnswer,
  type Change,
  type ChangeId,
  type DocumentId,
  EMPTY_SHEET,
  type HandInId,
  judge,
  type Mark,
  type MarkId,
  makeId,
  type Sheet,
  standingMarks,
  subjectOf,
  versionOf,
} from '@jotmark/core';
import { beforeEach, describe, expect, test } from 'vitest';
import { CallFailed } from '../api/call.ts';
import { Device } from './device.ts';
import { type Post, SheetKeeper } from './sheet-keeper.ts';

let tick = 1;
const id = <T extends string>() => makeId(tick++, crypto.getRandomValues(new Uint8Array(10))) as T;
const sheetId = id<HandInId>();

/** The server's rules without a server: judges by base, counts each change once. `cut` is the network, `deaf` loses answers. */
class Office implements Post {
  log: Change[] = [];
  sheet: Sheet = EMPTY_SHEET;
  cut = false;
  deaf = 0;
  batches = 0;

  async send(_: HandInId, changes: readonly Change[]): Promise<BatchAnswer> {
    if (this.cut) throw new CallFailed('offline');
    this.batches++;
    const results = changes.map((change): BatchAnswer['results'][number] => {
      const verdict = judge(
        change,
        versionOf(this.sheet, subjectOf(change)),
        this.log.some((c) => c.id === change.id),
      );
      if (verdict === 'apply') {
        this.log.push(change);
        this.sheet = applyAll(this.sheet, [change]);
        return { id: change.id, outcome: 'applied', reason: null, seq: this.log.length };
      }
      return { id: change.id, outcome: verdict, reason: null, seq: null };
    });
    if (this.deaf-- > 0) throw new CallFailed('offline');
    return { seq: this.log.length, results, current: null };
  }

  async since(_: HandInId, after: number) {
    if (this.cut) throw new CallFailed('offline');
    return { seq: this.log.length, changes: this.log.slice(after) };
  }
}

const note = (words: string, markId = id<MarkId>()): Mark => ({
  v: 2,
  id: markId,
  document: id<DocumentId>(),
  page: 0,
  colour: 'lake',
  focus: null,
  madeAt: 1,
  kind: 'note',
  place: { on: 'spot', x: 5, y: 5 },
  words,
});

let office: Office;
let device: Device;
let alarms: (() => void)[];
let names = 0;
beforeEach(async () => {
  localStorage.clear();
  office = new Office();
  device = await Device.open(`test-${names++}`);
  alarms = [];
});

const open = (over: { device?: Device | null } = {}) =>
  SheetKeeper.open(
    {
      sheetId,
      personId: 'p',
      device: over.device === undefined ? device : over.device,
      post: office,
      newId: () => id<ChangeId>(),
      later: (work) => alarms.push(work),
      committed: () => {},
    },
    {
      seq: office.log.length,
      sheet: office.sheet,
    },
  );

const put = (mark: Mark, keeper: SheetKeeper): Change => {
  const now = keeper.view.sheet.marks.get(mark.id);
  return { id: id<ChangeId>(), base: now?.version ?? null, type: 'put', mark, was: now?.value ?? null };
};

async function until(keeper: SheetKeeper, save: string): Promise<void> {
  if (keeper.view.save === save) return;
  await new Promise<void>((resolve) => {
    const stop = keeper.subscribe(() => {
      if (keeper.view.save === save) {
        stop();
        resolve();
      }
    });
  });
}

const words = (keeper: SheetKeeper) =>
  standingMarks(keeper.view.sheet).map((m) => (m.kind === 'note' ? m.words : m.kind));

describe('the keeper', () => {
  test('shows at once, keeps on the device, sends, and then forgets', async () => {
    const keeper = await open();
    keeper.do([put(note('count again'), keeper)]);
    expect(words(keeper)).toEqual(['count again']);
    expect(keeper.view.save).toBe('saving');
    await until(keeper, 'saved');
    expect(office.log).toHaveLength(1);
    expect(await device.kept('p', sheetId)).toEqual([]);
  });

  test('with the network cut everything is kept, also for a new tab, and goes on when it is back', async () => {
    office.cut = true;
    const keeper = await open();
    for (const w of ['one', 'two', 'three']) keeper.do([put(note(w), keeper)]);
    keeper.write('grade', 850);
    await until(keeper, 'kept');
    await keeper.written();
    expect(await device.kept('p', sheetId)).toHaveLength(4);

    const later = await open();
    expect(words(later)).toEqual(['one', 'two', 'three']);
    expect(later.view.sheet.slip.grade.value).toBe(850);
    office.cut = false;
    later.retryNow();
    await until(later, 'saved');
    expect(office.log).toHaveLength(4);
  });

  test('an answer that got lost sends twice and counts once', async () => {
    office.deaf = 1;
    const keeper = await open();
    keeper.do([put(note('once'), keeper)]);
    await until(keeper, 'kept');
    alarms.shift()!();
    await until(keeper, 'saved');
    expect(office.batches).toBe(2);
    expect(office.log).toHaveLength(1);
  });

  test('edits of one note in a row, made without network, arrive in order and without conflict', async () => {
    office.cut = true;
    const keeper = await open();
    const mark = note('C');
    for (const w of ['C', 'Co', 'Count'])
      keeper.do([put({ ...mark, words: w } as Mark, keeper)], `note:${mark.id}`);
    await until(keeper, 'kept');
    office.cut = false;
    keeper.retryNow();
    await until(keeper, 'saved');
    expect(words(keeper)).toEqual(['Count']);
    expect(keeper.view.clashes).toEqual([]);
    keeper.undo();
    expect(words(keeper)).toEqual([]);
  });

  test('two tabs see each other’s marks', async () => {
    const a = await open();
    const b = await open({ device: null });
    a.do([put(note('from a'), a)]);
    await until(a, 'saved');
    b.do([put(note('from b'), b)]);
    await until(b, 'saved');
    await a.catchUp();
    expect(words(a).sort()).toEqual(['from a', 'from b']);
    expect(words(b).sort()).toEqual(['from a', 'from b']);
  });

  test('the same note changed in both tabs becomes a choice and loses neither', async () => {
    const a = await open();
    const mark = note('start');
    a.do([put(mark, a)]);
    await until(a, 'saved');
    const b = await open({ device: null });
    a.do([put({ ...mark, words: 'by a' } as Mark, a)]);
    await until(a, 'saved');
    b.do([put({ ...mark, words: 'by b' } as Mark, b)]);
    await until(b, 'saved');
    expect(words(b)).toEqual(['by a']);
    expect(b.view.clashes).toMatchObject([{ why: 'conflict', mine: { mark: { words: 'by b' } } }]);
    b.settle(b.view.clashes[0]!, 'mine');
    await until(b, 'saved');
    expect(words(b)).toEqual(['by b']);
    expect(b.view.clashes).toEqual([]);
    await a.catchUp();
    expect(words(a)).toEqual(['by b']);
  });

  test('undo survives a reload and leaves alone what another changed since', async () => {
    const a = await open();
    const mine = note('mine');
    a.do([put(mine, a)]);
    a.do([put(note('second'), a)]);
    await until(a, 'saved');
    await a.written();
    const b = await open({ device: null });
    b.do([put({ ...mine, words: 'theirs' } as Mark, b)]);
    await until(b, 'saved');

    const again = await open();
    expect(again.view.canUndo).toBe(true);
    again.undo();
    expect(words(again)).toEqual(['theirs']);
    again.undo();
    expect(words(again)).toEqual(['theirs']);
    again.redo();
    expect(words(again).sort()).toEqual(['second', 'theirs']);
  });

  test('a browser that keeps nothing says so while the network is cut', async () => {
    office.cut = true;
    const keeper = await open({ device: null });
    keeper.do([put(note('x'), keeper)]);
    await until(keeper, 'loose');
    office.cut = false;
    keeper.retryNow();
    await until(keeper, 'saved');
  });

  test('what a tab had not yet written when it was closed is there in the next one, and counts once', async () => {
    const dying = await open();
    office.cut = true;
    dying.do([put(note('in haste'), dying)]);
    // The page goes before its database has answered.
    dying.leave();
    await dying.written();
    const next = await open();
    expect(words(next)).toEqual(['in haste']);
    expect(next.view.waiting).toBe(1);
    const slow = await Device.open(`slow-${names++}`);
    const stuck = await open({ device: slow });
    slow.keep = () => new Promise(() => {});
    stuck.do([put(note('never written'), stuck)]);
    stuck.leave();
    office.cut = false;
    const after = await open();
    await until(after, 'saved');
    expect(office.log).toHaveLength(2);
    expect((await open()).view.waiting).toBe(0);
  });

  test('a tab that took its time to close leaves its last words to one that is open already', async () => {
    const dying = await open();
    const heir = await open();
    office.cut = true;
    dying.do([put(note('late'), dying)]);
    dying.leave();
    await dying.written();
    office.cut = false;
    await heir.takeOver();
    await until(heir, 'saved');
    expect(words(heir)).toEqual(['late']);
    expect(office.log).toHaveLength(1);
    // Nothing is left to be taken twice.
    await heir.takeOver();
    expect(heir.view.waiting).toBe(0);
  });

  test('an hour of marking without a network arrives in order, in batches, after the tab was closed and the clock set back', async () => {
    office.cut = true;
    const hour = await open();
    const pinned = note('word 0');
    hour.do([put(pinned, hour)]);
    for (let i = 1; i <= 450; i++) {
      // Ids of changes carry the time of a clock that runs backwards here.
      const back = { id: makeId(1_000_000 - i, crypto.getRandomValues(new Uint8Array(10))) as ChangeId };
      hour.do([
        { ...put(i % 3 ? note(`note ${i}`) : ({ ...pinned, words: `word ${i}` } as Mark), hour), ...back },
      ]);
    }
    for (const alarm of alarms.splice(0)) alarm();
    await hour.written();
    const next = await open();
    expect(next.view).toMatchObject({ waiting: 451, clashes: [] });
    office.cut = false;
    next.retryNow();
    await until(next, 'saved');
    expect(next.view.clashes).toEqual([]);
    expect(office.batches).toBe(3);
    expect(office.log).toHaveLength(451);
    expect(words(next)).toContain('word 450');
    expect(next.view.sheet.marks.size).toBe(301);
  });

  test('a full device, or one that is wiped meanwhile, costs nothing that the server can still be told', async () => {
    const keeper = await open();
    const { keep } = device;
    device.keep = () => Promise.reject(new DOMException('full', 'QuotaExceededError'));
    office.cut = true;
    keeper.do([put(note('no room'), keeper)]);
    await until(keeper, 'loose');
    device.keep = keep.bind(device);
    keeper.do([put(note('room again'), keeper)]);
    await keeper.written();
    await device.forget('p', sheetId, new Set(keeper.view.sheet.marks.keys()));
    const ids = new Set((await device.kept('p', sheetId)).map((c) => c.id as string));
    await device.forget('p', sheetId, ids);
    expect(await device.kept('p', sheetId)).toEqual([]);
    office.cut = false;
    keeper.retryNow();
    await until(keeper, 'saved');
    expect(standingMarks(office.sheet).map((m) => (m.kind === 'note' ? m.words : ''))).toEqual([
      'no room',
      'room again',
    ]);
  });

  test('an acknowledgement alone gives nothing new to show: the sheet stays the same one', async () => {
    const keeper = await open();
    keeper.do([put(note('x'), keeper)]);
    const shown = keeper.view.sheet;
    await until(keeper, 'saved');
    expect(keeper.view.sheet).toBe(shown);
    // What it goes on from is what the server has.
    keeper.do([put(note('y'), keeper)]);
    await until(keeper, 'saved');
    expect(standingMarks(keeper.view.sheet)).toEqual(standingMarks(office.sheet));
  });
});
