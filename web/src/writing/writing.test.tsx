import { EMPTY_SHEET, plainText, type QuestionId, type Sheet } from '@jotmark/core';
import { cleanup, render } from '@testing-library/react';
import { Editor } from '@tiptap/core';
import Collaboration from '@tiptap/extension-collaboration';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { blockFrom, plainFrom, positionOf } from './from-editor.ts';
import { NODES } from './nodes.ts';
import { PlainShow } from './PlainShow.tsx';
import { ClosedText } from './rewrite.ts';
import { FIELD, TextDoc } from './text-doc.ts';

const Q = '01a21e00-0000-7000-8000-000000000001' as QuestionId;

afterEach(() => {
  cleanup();
  localStorage.clear();
  vi.useRealTimers();
});

/** The keeper of a copy, as far as a text asks it; what two of them are told goes to both. */
function keepers(count: number) {
  let texts: readonly string[] = [];
  const listeners = new Set<() => void>();
  const written: string[] = [];
  const view = () => ({ sheet: { ...EMPTY_SHEET, texts: new Map([[Q, texts]]) } as Sheet });
  const away = new Set<number>();
  const make = (n: number) => {
    let last = view();
    return {
      get view() {
        if (!away.has(n)) last = view();
        return last;
      },
      subscribe: (heard: () => void) => {
        listeners.add(heard);
        return () => listeners.delete(heard);
      },
      writeText: (_: QuestionId, update: string) => {
        written.push(update);
        texts = [...texts, update];
        for (const heard of listeners) heard();
      },
      written: () => Promise.resolve(),
    } as unknown as SheetKeeper;
  };
  return {
    all: Array.from({ length: count }, (_, n) => make(n)),
    written,
    setAway: (n: number, is: boolean) => {
      if (is) away.add(n);
      else away.delete(n);
      for (const heard of listeners) heard();
    },
  };
}

const editorOn = (text: TextDoc) =>
  new Editor({ extensions: [...NODES, Collaboration.configure({ document: text.doc, field: FIELD })] });
const wordsIn = (editor: Editor) => plainFrom(editor.state.doc);

describe('a text that is written', () => {
  test('what is typed in a burst is one change; a tab that dies before leaves it for the next, which sends it', () => {
    vi.useFakeTimers();
    const { all, written } = keepers(1);
    const text = new TextDoc(all[0]!, Q, 'place');
    const editor = editorOn(text);
    editor.commands.insertContent('The tarn');
    editor.commands.insertContent(' is deep.');
    expect(written).toEqual([]);
    expect(localStorage.getItem('place')).not.toBeNull();
    // Nothing more is heard of this tab.
    const next = new TextDoc(all[0]!, Q, 'place');
    vi.advanceTimersByTime(1000);
    expect(written.length).toBeGreaterThan(0);
    expect(wordsIn(editorOn(next))).toBe('The tarn is deep.');
    text.close();
  });

  test('closing, and going out of sight, make it a change at once', () => {
    const { all, written } = keepers(1);
    const text = new TextDoc(all[0]!, Q, 'place');
    const editor = editorOn(text);
    editor.commands.insertContent('One');
    window.dispatchEvent(new Event('pagehide'));
    expect(written).toHaveLength(1);
    editor.commands.insertContent(' two');
    text.close();
    expect(written).toHaveLength(2);
  });

  test('two write at once, one of them away for a while: both read the same, and nothing is missing', () => {
    const { all, setAway } = keepers(2);
    const texts = all.map((k, n) => new TextDoc(k, Q, `place ${n}`));
    const [one, two] = texts.map(editorOn) as [Editor, Editor];
    one.commands.insertContent('The tarn is cold.');
    texts[0]!.flush();
    expect(wordsIn(two)).toBe('The tarn is cold.');
    setAway(1, true);
    two.commands.insertContentAt(two.state.doc.content.size - 1, ' Cyd saw ice.');
    one.commands.insertContentAt(1, 'Ben: ');
    for (const text of texts) text.flush();
    expect(wordsIn(two)).not.toContain('Ben');
    setAway(1, false);
    for (const editor of [one, two]) expect(wordsIn(editor)).toBe('Ben: The tarn is cold. Cyd saw ice.');
    for (const text of texts) text.close();
  });
});

describe('what a text is made of', () => {
  const open = (html: string) => {
    const text = new TextDoc(keepers(1).all[0]!, Q, 'place');
    const editor = editorOn(text);
    editor.commands.setContent(html);
    return { editor, text };
  };

  test('what office programs paste keeps its words, headings, lists and tables, and nothing that leads or looks elsewhere', () => {
    const { editor } = open(
      `<html xmlns:o="urn:schemas-microsoft-com:office:office"><style>p.MsoNormal{color:red}</style><h2 class="MsoTitle">Title<o:p></o:p></h2>
       <p class="MsoNormal" style="mso-style:1"><b>Bold</b> and <span lang=EN style='color:red' onclick="x()">plain</span> <a href="javascript:alert(1)">link</a></p>
       <ul><li>one<ul><li>inner</li></ul></li></ul><table><tr><td>a</td><td>b</td></tr></table><img src="https://elsewhere.example/x.png"><script>alert(1)</script>`,
    );
    const content = editor.state.doc.children.flatMap(blockFrom);
    expect(content.map((b) => b.type)).toEqual(
      expect.arrayContaining(['heading', 'paragraph', 'list', 'table']),
    );
    expect(JSON.stringify(content)).not.toMatch(/javascript|elsewhere|mso|alert/i);
    expect(plainText({ content })).toContain('Bold and plain link');
    expect(content.some((b) => b.type === 'picture')).toBe(false);
  });

  test('its words are the same for the editor and for core, and every letter is found again', () => {
    const { editor } = open(
      '<h2>The tarn</h2><p>It is<br>deep.</p><ol><li>one</li><li>two</li></ol><p>End</p>',
    );
    const content = editor.state.doc.children.flatMap(blockFrom);
    const words = wordsIn(editor);
    expect(plainText({ content })).toBe(words);
    for (const word of ['tarn', 'deep', 'two', 'End']) {
      const at = words.indexOf(word);
      const [from, to] = [positionOf(editor.state.doc, at), positionOf(editor.state.doc, at + word.length)];
      expect(editor.state.doc.textBetween(from, to)).toBe(word);
    }
  });

  test('a note lies at its words and goes with them', () => {
    const { editor } = open('<p>It is deep.</p>');
    editor
      .chain()
      .setTextSelection({ from: 7, to: 11 })
      .setMark('note', { words: 'Nobody measured it.' })
      .run();
    editor.commands.insertContentAt(1, 'Once more: ');
    expect(editor.state.doc.children.flatMap(blockFrom)).toEqual([
      {
        type: 'paragraph',
        content: [
          { text: 'Once more: It is ' },
          { text: 'deep', note: 'Nobody measured it.' },
          { text: '.' },
        ],
      },
    ]);
  });

  test('a text that is closed is made to read otherwise by the smallest change; over the end of a paragraph it is left alone', () => {
    const { all, written } = keepers(1);
    const text = new TextDoc(all[0]!, Q, 'place');
    const editor = editorOn(text);
    editor.commands.setContent('<h2>The tarn</h2><p>It is <b>very</b> cold there.</p><p>End</p>');
    text.flush();
    const closed = new ClosedText(written[0]!);
    expect(closed.words).toBe('The tarn\nIt is very cold there.\nEnd');
    const change = closed.rewrite('The tarn\nIt is quite cold there.\nEnd');
    all[0]!.writeText(Q, change!);
    expect(wordsIn(editor)).toBe('The tarn\nIt is quite cold there.\nEnd');
    expect(closed.rewrite('The tarn It is quite cold there.\nEnd')).toBeNull();
    text.close();
  });
});

test('of a text as it was, what was just written is told from the rest, and brought into sight', () => {
  Element.prototype.scrollIntoView = vi.fn();
  const { container } = render(<PlainShow words={'One\nTwo three'} came={{ from: 4, to: 7 }} label="Text" />);
  expect(container.querySelector('mark')?.textContent).toBe('Two');
  expect(container.querySelectorAll('p')).toHaveLength(2);
  expect(Element.prototype.scrollIntoView).toHaveBeenCalled();
});
