import type { openRoutes } from '@jotmark/core';
import { sendFile } from '../blobs/send.ts';
import { MembershipTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { openAddress } from '../open/address.ts';
import { dueCalendar, mustBeInClass } from '../open/calendar.ts';
import { familyLog, familyVoice } from '../open/family-log.ts';
import type { HandlersOf, Parts } from './handler.ts';

/** What whoever has an address may read. */
export function openHandlers({ house }: Parts): HandlersOf<typeof openRoutes> {
  const db = house.db.manager;
  return {
    logAddress: async ({ person, params, body }) => {
      if (!(await find(db, MembershipTable, { ...params, role: 'student' }))) throw new Fault('not-found');
      return openAddress(house, person, { kind: 'family-log', ...params }, body.open);
    },
    calendarAddress: async ({ person, body: { classId, open } }) => {
      await mustBeInClass(db, person, classId);
      return openAddress(house, person, { kind: 'calendar', classId, personId: person.id }, open);
    },
    familyLog: async ({ params, res }) => {
      res.set('X-Robots-Tag', 'noindex, nofollow');
      return familyLog(house, params.token);
    },
    familyVoice: async ({ params, query, req, res }) => {
      res.set('X-Robots-Tag', 'noindex, nofollow');
      const { sha256, plainSha256, type } = await familyVoice(house, params.token, params.file);
      if (query.plain && !plainSha256) throw new Fault('voice-not-ready');
      const plain = type.startsWith('video/') ? 'video/mp4' : 'audio/mpeg';
      await sendFile(house, req, res, {
        sha256: query.plain ? plainSha256! : sha256,
        type: query.plain ? plain : type,
        download: null,
      });
      return undefined;
    },
    calendar: async ({ params, res }) => {
      const text = await dueCalendar(house, params.token);
      res
        .set('Content-Type', 'text/calendar; charset=utf-8')
        .set('Cache-Control', 'private, max-age=900')
        .send(text);
      return undefined;
    },
  };
}
