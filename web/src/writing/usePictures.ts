import { type CopyId, MOST_PICTURES } from '@jotmark/core';
import type { Editor } from '@tiptap/core';
import { type RefObject, useState } from 'react';
import { CallFailed } from '../api/call.ts';
import { outcomeThat, sendFiles } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { toast } from '../frame/toast.ts';

/** Puts pictures where one writes: each is kept with the copy first, then shown. */
export function usePictures(copyId: CopyId, editor: RefObject<Editor | null>) {
  const [sending, setSending] = useState(0);
  const put = async (file: File) => {
    let shown = 0;
    editor.current?.state.doc.descendants((node) => {
      if (node.type.name === 'image') shown++;
    });
    if (shown >= MOST_PICTURES) {
      toast.error(sentenceOf(new CallFailed('too-many-pictures', { most: MOST_PICTURES })));
      return;
    }
    setSending((n) => n + 1);
    try {
      const shape = await shapeOf(file);
      const outcome = await sendFiles('addTextPicture', { copyId }, file);
      const { id } = outcomeThat('document', outcome).document;
      // Meanwhile it may have been handed in: what is with the teacher is not changed.
      if (!editor.current?.isEditable) throw new CallFailed('already-handed-in');
      const alt = file.name.replace(/\.[^.]+$/, '').slice(0, 200);
      editor.current
        .chain()
        .focus()
        .insertContent([
          { type: 'image', attrs: { src: `document:${id}`, alt, ...shape } },
          { type: 'paragraph' },
        ])
        .run();
    } catch (error) {
      toast.error(sentenceOf(error));
    } finally {
      setSending((n) => n - 1);
    }
  };
  return {
    sending,
    add: async (files: readonly File[]) => {
      for (const file of files) await put(file);
    },
  };
}

/** How wide and high a picture is, turned as it is shown. One that the browser cannot open is judged by the server. */
async function shapeOf(file: File): Promise<{ wide: number; high: number }> {
  try {
    const picture = await createImageBitmap(file);
    const shape = { wide: picture.width, high: picture.height };
    picture.close();
    return shape;
  } catch {
    return { wide: 400, high: 400 };
  }
}
