import type { Digest, Recording } from '@jotmark/core';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { VoicesContext } from './playing.ts';
import { VoicePlayer } from './VoicePlayer.tsx';

const file = 'c'.repeat(64) as Digest;
const recording: Recording = {
  file,
  type: 'audio/ogg',
  ms: 9000,
  peaks: Array(80).fill(50),
  captions: [
    { at: 0, words: 'You read the hill well.' },
    { at: 4000, words: 'Next time measure twice.' },
  ],
};
vi.mock('../outbox/outbox.ts', () => ({ outbox: { findBytes: async () => null } }));

let plays = 'probably';
beforeEach(() => {
  localStorage.clear();
  vi.spyOn(HTMLMediaElement.prototype, 'canPlayType').mockImplementation(() => plays as CanPlayTypeResult);
  vi.spyOn(HTMLMediaElement.prototype, 'play').mockImplementation(async () => {});
  vi.spyOn(HTMLMediaElement.prototype, 'pause').mockImplementation(() => {});
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
  plays = 'probably';
});

const shown = async (context = {}) => {
  const heard = vi.fn();
  const { container } = render(
    <VoicesContext value={{ heard: new Map(), tells: 'nothing', onHeard: heard, ...context }}>
      <VoicePlayer recording={recording} label="Voice note" large />
    </VoicesContext>,
  );
  await act(async () => {});
  return { heard, audio: container.querySelector('audio')! };
};

test('a browser that lacks the first form is given the second, and so is one that finds out only when it plays', async () => {
  plays = '';
  const old = await shown();
  expect(old.audio.src).toContain(`/api/voices/${file}/plain`);
  cleanup();
  plays = 'maybe';
  const { audio } = await shown();
  expect(audio.src).toMatch(new RegExp(`/api/voices/${file}$`));
  fireEvent.error(audio);
  expect(audio.src).toContain('/plain');
  fireEvent.error(audio);
  expect(screen.getByRole('alert').textContent).toContain('Its words are under Text.');
});

test('its words stand beside it and lead to their moment; where one was is kept, and told', async () => {
  const { audio, heard } = await shown();
  fireEvent.click(screen.getByRole('button', { name: /^Next time measure twice/ }));
  expect(audio.currentTime).toBe(4);
  expect(screen.getByRole('slider', { name: 'Where Voice note is' }).getAttribute('aria-valuetext')).toBe(
    '0:04 of 0:09',
  );
  fireEvent.play(audio);
  fireEvent.pause(audio);
  expect(heard).toHaveBeenLastCalledWith(file, 4000, 4000);
  cleanup();
  await shown();
  expect((screen.getByRole('slider', { name: 'Where Voice note is' }) as HTMLInputElement).value).toBe(
    '4000',
  );
});

test('a teacher sees how far it was heard, and begins at the front', async () => {
  await shown({
    tells: 'that-it-was-heard',
    heard: new Map([[file, { reached: 5200, left: 5200 }]]),
  });
  expect(screen.getByText('Heard as far as 0:05')).toBeTruthy();
  expect((screen.getByRole('slider', { name: 'Where Voice note is' }) as HTMLInputElement).value).toBe('0');
});

test('the speed goes round from 1 to 2 and is kept for the next', async () => {
  await shown();
  for (const now of ['1', '1.25', '1.5', '2', '1'])
    fireEvent.click(screen.getByRole('button', { name: `Speed, ${now} times` }));
  expect(screen.getByRole('button', { name: 'Speed, 1.25 times' })).toBeTruthy();
  cleanup();
  await shown();
  expect(screen.getByRole('button', { name: 'Speed, 1.25 times' })).toBeTruthy();
});
