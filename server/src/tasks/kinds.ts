import type { JobKind } from '../database/entities/index.ts';
import type { Work } from '../jobs/context.ts';
import type { Opener } from '../opening/opener.ts';
import { arrive } from './arrive.ts';
import { bringIn } from './bring-in.ts';
import { compactTexts } from './compact-text.ts';
import { handBackAtTime } from './hand-back.ts';
import { handBackPdf } from './hand-back-pdf.ts';
import { mail } from './mail.ts';
import { markedPdf } from './marked-pdf.ts';
import { plainVoice } from './plain-voice.ts';
import { readDocument } from './read-document.ts';
import { takeOut } from './take-out.ts';
import { zipOriginals } from './zip-originals.ts';

/** What each kind of job does. A kind that is not here does not compile. */
export const makeKinds = (opener: Opener): Readonly<Record<JobKind, Work>> => ({
  arrive: arrive(opener),
  'bring-in': bringIn(opener),
  'read-document': readDocument(opener),
  'hand-back-pdf': handBackPdf(opener),
  'marked-pdf': markedPdf(opener),
  'zip-originals': zipOriginals,
  'plain-voice': plainVoice,
  'hand-back': handBackAtTime,
  'compact-text': compactTexts,
  mail,
  out: takeOut(opener),
});
