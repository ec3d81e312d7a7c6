import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { guardDrops, useFilesAnywhere } from './files-anywhere.ts';

guardDrops();
afterEach(cleanup);
const file = new File(['x'], 'map.pdf');
const dataTransfer = () => ({ types: ['Files'], files: [file], dropEffect: 'copy' });

function Page({ take }: { take: ((files: readonly File[]) => void) | null }) {
  const over = useFilesAnywhere(take);
  return (
    <main>
      <p>{over ? 'over' : 'not over'}</p>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: stands for an editor */}
      <div data-testid="editor" onDrop={(e) => e.preventDefault()} />
    </main>
  );
}

test('where no file is taken a drop does nothing; the page stays', () => {
  render(<Page take={null} />);
  const transfer = dataTransfer();
  expect(fireEvent.dragOver(document.body, { dataTransfer: transfer })).toBe(false);
  expect(transfer.dropEffect).toBe('none');
  expect(fireEvent.drop(document.body, { dataTransfer: dataTransfer() })).toBe(false);
  // What is no file is nobody's business.
  expect(fireEvent.dragOver(document.body, { dataTransfer: { types: ['text/plain'] } })).toBe(true);
});

test('where files are taken they are taken anywhere on the page, but not what an editor took', () => {
  const take = vi.fn();
  render(<Page take={take} />);
  fireEvent.dragOver(document.body, { dataTransfer: dataTransfer() });
  expect(screen.getByText('over')).toBeTruthy();
  fireEvent.drop(document.body, { dataTransfer: dataTransfer() });
  expect(take).toHaveBeenCalledExactlyOnceWith([file]);
  expect(screen.getByText('not over')).toBeTruthy();
  fireEvent.drop(screen.getByTestId('editor'), { dataTransfer: dataTransfer() });
  expect(take).toHaveBeenCalledTimes(1);
});
