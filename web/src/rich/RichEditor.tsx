import { type AssignmentId, RichText } from '@jotmark/core';
import Image from '@tiptap/extension-image';
import { type Editor, EditorContent, type JSONContent, useEditor, useEditorState } from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import { Bold, Heading2, Heading3, ImagePlus, Italic, Link2, List, ListOrdered } from 'lucide-react';
import { useRef, useState } from 'react';
import { outcomeThat, sendFiles } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { toast } from '../frame/toast.ts';
import { originalOf } from '../paper/Enclosures.tsx';
import { FormTool as Tool } from './FormTool.tsx';
import { keepCaret } from './keep-caret.ts';
import { LinkForm } from './LinkForm.tsx';

interface Props {
  readonly label: string;
  readonly value: RichText;
  /** Its pictures are kept with this assignment. */
  readonly assignmentId: AssignmentId;
  onChange(value: RichText): void;
}

/** Pictures are documents of ours: the editor shows their bytes and keeps their id. */
const Picture = Image.extend({
  renderHTML({ HTMLAttributes }) {
    const { src, ...rest } = HTMLAttributes as { src: string };
    return [
      'img',
      { ...rest, src: src.startsWith('document:') ? originalOf(src.slice('document:'.length)) : '' },
    ];
  },
  // A picture pasted from elsewhere is an address of another server: it is not taken.
  parseHTML: () => [],
});

const EXTENSIONS = [
  StarterKit.configure({
    heading: { levels: [2, 3] },
    blockquote: false,
    code: false,
    codeBlock: false,
    horizontalRule: false,
    strike: false,
    underline: false,
    link: { openOnClick: false, protocols: ['http', 'https', 'mailto'], autolink: true },
  }),
  Picture,
];

/** Headings, lists, links and pictures, and nothing that the page could not show. What it gives has passed the schema. */
export function RichEditor({ label, value, assignmentId, onChange }: Props) {
  const editor = useEditor({
    extensions: EXTENSIONS,
    content: value as JSONContent,
    editorProps: {
      attributes: { 'aria-label': label, role: 'textbox', class: 'rich min-h-32 outline-none' },
    },
    onUpdate: ({ editor: e }) => {
      const read = RichText.safeParse(e.getJSON());
      if (read.success) onChange(tidy(read.data));
    },
  });
  if (!editor) return null;
  return (
    <div className="rounded-lg border-[1.5px] border-line-strong bg-paper focus-within:border-action">
      <Tools editor={editor} assignmentId={assignmentId} />
      <div className="px-4 py-3">
        <EditorContent editor={editor} />
      </div>
    </div>
  );
}

/** An empty page is no paragraph. */
function tidy(text: RichText): RichText {
  const [only] = text.content;
  return text.content.length === 1 && only?.type === 'paragraph' && !only.content?.length
    ? { type: 'doc', content: [] }
    : text;
}

function Tools({ editor, assignmentId }: { editor: Editor; assignmentId: AssignmentId }) {
  const [linking, setLinking] = useState(false);
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
    }),
  });
  const chain = () => editor.chain().focus();
  const addPicture = async (file: File | undefined) => {
    if (!file) return;
    try {
      const outcome = await sendFiles('addPicture', { assignmentId }, file);
      const { id } = outcomeThat('document', outcome).document;
      chain()
        .setImage({ src: `document:${id}`, alt: file.name.replace(/\.[^.]+$/, '') })
        .run();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  };
  return (
    <div
      className="flex flex-wrap items-center gap-0.5 border-b border-line px-2 py-1"
      role="toolbar"
      aria-label="Form of the text"
      onMouseDown={keepCaret}
    >
      <Tool
        label="Heading"
        icon={Heading2}
        on={on.h2}
        onClick={() => chain().toggleHeading({ level: 2 }).run()}
      />
      <Tool
        label="Smaller heading"
        icon={Heading3}
        on={on.h3}
        onClick={() => chain().toggleHeading({ level: 3 }).run()}
      />
      <Tool label="Bold" icon={Bold} on={on.bold} onClick={() => chain().toggleBold().run()} />
      <Tool label="Italic" icon={Italic} on={on.italic} onClick={() => chain().toggleItalic().run()} />
      <Tool label="List" icon={List} on={on.bullets} onClick={() => chain().toggleBulletList().run()} />
      <Tool
        label="Numbered list"
        icon={ListOrdered}
        on={on.numbers}
        onClick={() => chain().toggleOrderedList().run()}
      />
      <Tool
        label={on.link ? 'Remove link' : 'Link'}
        icon={Link2}
        on={on.link}
        onClick={() => (on.link ? chain().unsetLink().run() : setLinking(!linking))}
      />
      <Tool label="Picture" icon={ImagePlus} on={false} onClick={() => input.current?.click()} />
      <FileInput
        at={input}
        accept="image/*"
        label="Picture for the instructions"
        onFiles={(files) => addPicture(files[0])}
      />
      {linking && (
        <LinkForm
          onLink={(href) => {
            setLinking(false);
            const { empty } = editor.state.selection;
            if (empty)
              chain()
                .insertContent({ type: 'text', text: href, marks: [{ type: 'link', attrs: { href } }] })
                .run();
            else chain().setLink({ href }).run();
          }}
        />
      )}
    </div>
  );
}
