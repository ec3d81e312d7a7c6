import { type CopyId, countWords, MOST_TEXT, type PersonId, type Question, textStep } from '@jotmark/core';
import { Extension } from '@tiptap/core';
import Collaboration from '@tiptap/extension-collaboration';
import { Plugin } from '@tiptap/pm/state';
import { type Editor, EditorContent, useEditor } from '@tiptap/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { toast } from '../frame/toast.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { Formulas } from './formulas.ts';
import { plainFrom, positionOf } from './from-editor.ts';
import { LinedPaper } from './LinedPaper.tsx';
import { NODES } from './nodes.ts';
import { FIELD, TextDoc } from './text-doc.ts';
import { usePageEdges } from './usePageEdges.ts';
import { usePictures } from './usePictures.ts';
import { WritingTools } from './WritingTools.tsx';
import type { Writers } from './writer.ts';

export interface LongEditorProps {
  readonly keeper: SheetKeeper;
  readonly personId: PersonId;
  readonly copyId: CopyId;
  readonly question: Question;
  readonly number: string;
  readonly zoom: number;
  readonly narrow: boolean;
  readonly readOnly: boolean;
  /** Where it says what else can be done with it. */
  readonly writers: Writers;
  onFocus(question: Question): void;
  /** How it reads, whenever writing rests; and whether something is typed that is no change yet. */
  onWords(question: Question, words: string): void;
  onPending(pending: boolean): void;
}

/** Who comes: a student with something to say that fits no box. Writes on lined pages that grow; all of it is kept as it is typed. */
export function LongEditor(p: LongEditorProps) {
  const { keeper, personId, copyId, question } = p;
  const place = `jotmark.text.${personId}.${copyId}.${question.id}`;
  const [text, setText] = useState<TextDoc | null>(null);
  useEffect(() => {
    const made = new TextDoc(keeper, question.id, place);
    setText(made);
    return () => {
      setText(null);
      made.close();
    };
  }, [keeper, question.id, place]);
  return text && <Paper key={place} {...p} text={text} />;
}

function Paper(p: LongEditorProps & { text: TextDoc }) {
  const { text, question, number, readOnly, zoom, narrow } = p;
  const newest = useRef(p);
  newest.current = p;
  const editorNow = useRef<Editor | null>(null);
  const pictures = usePictures(p.copyId, editorNow);
  const editor = useEditor(
    {
      editable: !readOnly,
      extensions: useMemo(
        () => [...NODES, Formulas, Collaboration.configure({ document: text.doc, field: FIELD }), limitOf()],
        [text],
      ),
      editorProps: {
        attributes: {
          'aria-label': `Text of ${number}`,
          'aria-multiline': 'true',
          role: 'textbox',
          class: 'lined-text',
          'data-question': question.id,
          dir: 'auto',
        },
        handlePaste: (_, event) => {
          const files = [...(event.clipboardData?.files ?? [])].filter((f) => f.type.startsWith('image/'));
          const words = event.clipboardData?.getData('text/plain') ?? '';
          if (files.length && !words) {
            pictures.add(files);
            return true;
          }
          text.pasted(words.length);
          return false;
        },
        handleDrop: (_, event) => {
          const files = [...(event.dataTransfer?.files ?? [])];
          if (files.length === 0) return false;
          event.preventDefault();
          pictures.add(files);
          return true;
        },
      },
      onFocus: () => newest.current.onFocus(question),
    },
    [text],
  );
  editorNow.current = editor;
  useEffect(() => {
    editor?.setEditable(!readOnly, false);
  }, [editor, readOnly]);
  useEffect(() => text.onPending((pending) => newest.current.onPending(pending)), [text]);
  useWriter(p, editor);
  const words = useWords(p, editor);
  const { count, edges } = usePageEdges(editor, zoom);
  if (!editor) return null;
  return (
    <section aria-label={`Pages to write on, ${number}`} className={narrow ? 'w-full' : ''}>
      {!readOnly && <WritingTools editor={editor} onPictures={pictures.add} sending={pictures.sending} />}
      <LinedPaper zoom={zoom} narrow={narrow} edges={edges}>
        <EditorContent editor={editor} />
      </LinedPaper>
      <HowMuch
        words={words}
        wished={question.answer.kind === 'long' ? question.answer.words : null}
        pages={count}
      />
    </section>
  );
}

function HowMuch({ words, wished, pages }: { words: number; wished: number | null; pages: number }) {
  return (
    <p role="status" className="mt-2 text-center text-sm text-soft tabular">
      {words} {wished === null ? (words === 1 ? 'word' : 'words') : `of about ${wished} words`}, {pages}{' '}
      {pages === 1 ? 'page' : 'pages'}
    </p>
  );
}

/** So often words are counted while one writes, in milliseconds. */
const COUNT_MS = 600;

function useWords({ question, onWords }: LongEditorProps, editor: Editor | null): number {
  const [count, setCount] = useState(0);
  const tell = useRef(onWords);
  tell.current = onWords;
  useEffect(() => {
    if (!editor) return;
    let clock: ReturnType<typeof setTimeout> | undefined;
    const look = () => {
      clock = undefined;
      if (editor.isDestroyed) return;
      const words = plainFrom(editor.state.doc);
      setCount(countWords(words));
      tell.current(question, words);
    };
    const later = () => {
      clock ??= setTimeout(look, COUNT_MS);
    };
    look();
    editor.on('update', later);
    return () => {
      clearTimeout(clock);
      editor.off('update', later);
    };
  }, [editor, question]);
  return count;
}

/** Says what can be done with this text from outside of it. */
function useWriter(
  { text, question, writers }: LongEditorProps & { text: TextDoc },
  editor: Editor | null,
): void {
  useEffect(() => {
    if (!editor) return;
    writers.set(question.id, {
      flush: () => text.flush(),
      plain: () => plainFrom(editor.state.doc),
      undo: () => editor.commands.undo(),
      redo: () => editor.commands.redo(),
      focused: () => editor.isFocused,
      rewrite: (words) => {
        const step = textStep(plainFrom(editor.state.doc), words);
        if (step[0] !== 't') return;
        const [, at, cut, put] = step;
        const { doc, tr } = editor.state;
        editor.view.dispatch(tr.insertText(put, positionOf(doc, at), positionOf(doc, at + cut)));
      },
    });
    return () => {
      writers.delete(question.id);
    };
  }, [editor, text, question, writers]);
}

/** A text is full at a hundred thousand words: what would go beyond is not taken, and it is said. */
const limitOf = () =>
  Extension.create({
    name: 'limit',
    addProseMirrorPlugins: () => [
      new Plugin({
        filterTransaction: (tr, state) => {
          if (
            !tr.docChanged ||
            tr.doc.content.size <= MOST_TEXT ||
            tr.doc.content.size <= state.doc.content.size
          )
            return true;
          // What others wrote is merged whatever it comes to.
          if (tr.getMeta('y-sync$')) return true;
          toast.error(
            'This text is as long as a text can be, about a hundred thousand words. What you added last was not taken; all else is kept.',
            { id: 'text-full' },
          );
          return false;
        },
      }),
    ],
  });
