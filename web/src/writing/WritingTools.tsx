import type { Editor } from '@tiptap/core';
import type { Command } from '@tiptap/pm/state';
import { addColumnAfter, addRowAfter, deleteColumn, deleteRow, deleteTable } from '@tiptap/pm/tables';
import { useEditorState } from '@tiptap/react';
import {
  Bold,
  Heading2,
  Heading3,
  ImagePlus,
  Italic,
  Link2,
  List,
  ListOrdered,
  type LucideIcon,
  Sigma,
  StickyNote,
  Table2,
} from 'lucide-react';
import { useRef, useState } from 'react';
import { FileInput } from '../frame/FileInput.tsx';
import { toast } from '../frame/toast.ts';
import { FormTool } from '../rich/FormTool.tsx';
import { keepCaret } from '../rich/keep-caret.ts';
import { LinkForm } from '../rich/LinkForm.tsx';
import { NoteForm } from './NoteForm.tsx';

interface Props {
  readonly editor: Editor;
  /** Pictures that are on their way. */
  readonly sending: number;
  onPictures(files: readonly File[]): void;
}

/** The form of a text: headings, lists, tables, links, pictures, formulas. */
export function WritingTools({ editor, sending, onPictures }: Props) {
  const [linking, setLinking] = useState(false);
  const [noting, setNoting] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const on = useEditorState({
    editor,
    selector: ({ editor: e }) => ({
      bold: e.isActive('bold'),
      italic: e.isActive('italic'),
      h2: e.isActive('heading', { level: 2 }),
      h3: e.isActive('heading', { level: 3 }),
      bullets: e.isActive('bulletList'),
      numbers: e.isActive('orderedList'),
      link: e.isActive('link'),
      note: e.isActive('note'),
      noted: String(e.getAttributes('note').words ?? ''),
      selects: !e.state.selection.empty,
      table: e.isActive('table'),
    }),
  });
  const chain = () => editor.chain().focus();
  const tool = (label: string, icon: LucideIcon, pressed: boolean, act: () => void) => (
    <FormTool label={label} icon={icon} on={pressed} onClick={act} />
  );
  return (
    <div
      role="toolbar"
      aria-label="Form of the text"
      data-own-pointer
      onMouseDown={keepCaret}
      className="sticky -top-4 z-30 mb-2 flex flex-wrap items-center gap-0.5 rounded-lg border border-line bg-raised px-2 py-1 shadow-sm"
    >
      {tool('Heading', Heading2, on.h2, () => chain().toggleHeading({ level: 2 }).run())}
      {tool('Smaller heading', Heading3, on.h3, () => chain().toggleHeading({ level: 3 }).run())}
      {tool('Bold', Bold, on.bold, () => chain().toggleBold().run())}
      {tool('Italic', Italic, on.italic, () => chain().toggleItalic().run())}
      {tool('List', List, on.bullets, () => chain().toggleBulletList().run())}
      {tool('Numbered list', ListOrdered, on.numbers, () => chain().toggleOrderedList().run())}
      {tool(on.link ? 'Remove link' : 'Link', Link2, on.link, () =>
        on.link ? chain().unsetLink().run() : setLinking(!linking),
      )}
      {tool('Note about these words', StickyNote, on.note, () => {
        if (on.selects || on.note) setNoting(!noting);
        else toast('Select the words first that your note is about.');
      })}
      {tool('Picture', ImagePlus, false, () => input.current?.click())}
      {tool('Formula', Sigma, false, () => {
        const { from } = editor.state.selection;
        chain()
          .insertContent('$$')
          .setTextSelection(from + 1)
          .run();
      })}
      {!on.table && tool('Table', Table2, false, () => chain().insertContent(EMPTY_TABLE).run())}
      {on.table && <TableTools editor={editor} />}
      {sending > 0 && (
        <span role="status" className="px-2 text-sm text-soft">
          Sending {sending === 1 ? 'a picture' : `${sending} pictures`} …
        </span>
      )}
      <FileInput at={input} accept="image/*" multiple label="Pictures for the text" onFiles={onPictures} />
      {noting && (
        <NoteForm
          words={on.noted}
          onKeep={(words) => {
            setNoting(false);
            chain().extendMarkRange('note').setMark('note', { words }).run();
          }}
          onDelete={() => {
            setNoting(false);
            chain().extendMarkRange('note').unsetMark('note').run();
          }}
          onClose={() => {
            setNoting(false);
            editor.commands.focus();
          }}
        />
      )}
      {linking && (
        <LinkForm
          onLink={(href) => {
            setLinking(false);
            const words = { type: 'text', text: href, marks: [{ type: 'link', attrs: { href } }] };
            if (editor.state.selection.empty) chain().insertContent(words).run();
            else chain().setLink({ href }).run();
          }}
        />
      )}
    </div>
  );
}

const cellOf = (type: string) => ({ type, content: [{ type: 'paragraph' }] });
const rowOf = (type: string) => ({ type: 'tableRow', content: [cellOf(type), cellOf(type), cellOf(type)] });
const EMPTY_TABLE = [
  { type: 'table', content: [rowOf('tableHeader'), rowOf('tableCell'), rowOf('tableCell')] },
  { type: 'paragraph' },
];

/** While one is in a table: its rows and columns. */
function TableTools({ editor }: { editor: Editor }) {
  const acts: readonly (readonly [string, Command])[] = [
    ['Add row', addRowAfter],
    ['Add column', addColumnAfter],
    ['Delete row', deleteRow],
    ['Delete column', deleteColumn],
    ['Delete table', deleteTable],
  ];
  return acts.map(([label, command]) => (
    <button
      key={label}
      type="button"
      className="min-h-8 rounded px-2 text-sm text-soft hover:bg-margin"
      onClick={() => {
        editor.commands.focus();
        command(editor.state, editor.view.dispatch);
      }}
    >
      {label}
    </button>
  ));
}
