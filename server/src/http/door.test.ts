import type { PersonId } from '@jotmark/core';
import { expect, test } from 'vitest';
import { Door } from './door.ts';

const [ada, ben] = ['ada', 'ben'] as PersonId[];

test('who sends hundreds of requests at once waits behind themselves, and nobody else does', async () => {
  const door = new Door();
  let inside = 0;
  let most = 0;
  const opened: (() => void)[] = [];
  const letIn = () =>
    new Promise<void>((resolve) => {
      most = Math.max(most, ++inside);
      opened.push(() => {
        inside--;
        resolve();
      });
    });
  const hers = Array.from({ length: 300 }, () => door.through(ada!, letIn));
  await new Promise((r) => setImmediate(r));
  expect(inside).toBe(4);
  expect(await door.through(ben!, async () => 'in')).toBe('in');
  while (opened.length) {
    opened.shift()!();
    await new Promise((r) => setImmediate(r));
  }
  await Promise.all(hers);
  expect([inside, most]).toEqual([0, 4]);
});

test('one that is refused makes room', async () => {
  const door = new Door();
  for (let i = 0; i < 20; i++)
    await expect(door.through(ada!, () => Promise.reject(new Error('not yours')))).rejects.toThrow();
  expect(await door.through(ada!, async () => 1)).toBe(1);
});
