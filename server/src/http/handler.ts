import type { BodyOf, ParamsOf, Person, QueryOf, ReplyOf, RouteName, Routes } from '@jotmark/core';
import type { Request, Response } from 'express';
import type { Pulse } from '../database/pulse.ts';
import type { House } from '../house.ts';
import type { Hub } from '../live/hub.ts';
import type { Lines } from '../live/lines.ts';
import type { SeqLine } from '../live/seq-line.ts';
import type { Opener } from '../opening/opener.ts';
import type { SignedIn } from '../people/session.ts';

export interface Parts {
  readonly house: House;
  readonly hub: Hub;
  readonly lines: Lines;
  readonly pulse: Pulse;
  /** Whether this server is being stopped: whoever asks now is told to ask the next time on a new line. */
  readonly stopping: () => boolean;
  /** Of markings that lie on desks, and of banks that are open. */
  readonly deskLine: SeqLine;
  readonly bankLine: SeqLine;
  /** Of people who have Jotmark open. */
  readonly newsLine: SeqLine;
  /** Opens files in processes of their own. */
  readonly opener: Opener;
  /** Wakes whoever works on jobs. */
  readonly nudge: () => void;
}

export interface Call<N extends RouteName> {
  readonly params: ParamsOf<Routes[N]>;
  readonly query: QueryOf<Routes[N]>;
  readonly body: BodyOf<Routes[N]>;
  /** Set on every route that is not for anyone. */
  readonly person: Person;
  readonly signedIn: SignedIn | null;
  readonly req: Request;
  readonly res: Response;
}

/**
 * A handler for every route of the contract: the compiler sees to it that none is missing. Who may call it was decided before, see
 * `people/access.ts`. One that gives nothing has written its answer to `res` itself.
 */
export type Handlers = {
  readonly [N in RouteName]: (call: Call<N>) => Promise<ReplyOf<Routes[N]> | undefined>;
};

/** The answer of what has nothing to tell but that it is done. */
export async function done(work: Promise<unknown>): Promise<{ ok: true }> {
  await work;
  return { ok: true };
}

/** The handlers of one part of the contract. */
export type HandlersOf<R> = Pick<Handlers, keyof R & RouteName>;
