import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, expect, test } from 'vitest';
import { Divider } from './Divider.tsx';

afterEach(cleanup);

/** A part 300 wide that its divider sizes from 200 to 400. */
function show(edge: 'left' | 'right') {
  const values: number[] = [];
  function Part() {
    const [width, setWidth] = useState(300);
    return (
      <div
        ref={(el) =>
          void (el && Object.defineProperty(el, 'offsetWidth', { value: width, configurable: true }))
        }
      >
        <Divider
          label="Width of the part"
          edge={edge}
          value={width}
          least={200}
          most={400}
          onValue={(to) => {
            values.push(to);
            setWidth(to);
          }}
        />
      </div>
    );
  }
  render(<Part />);
  const divider = screen.getByRole('separator', { name: 'Width of the part' });
  divider.setPointerCapture = () => {};
  const at = (type: 'pointerDown' | 'pointerMove' | 'pointerUp', clientX: number) =>
    fireEvent[type](divider, { clientX, pointerId: 1 });
  return { divider, values, at };
}

test('is pulled with the pointer, away from its part to make it wider, and no further than it may be', () => {
  const { divider, values, at } = show('left');
  at('pointerDown', 500);
  at('pointerMove', 470);
  at('pointerMove', 200);
  at('pointerMove', 900);
  at('pointerUp', 900);
  // Let go, it follows nobody.
  at('pointerMove', 500);
  expect(values).toEqual([330, 400, 200]);
  expect(divider.getAttribute('aria-valuenow')).toBe('200');
});

test('is moved by the arrow keys as they point, from either edge', () => {
  const right = show('right');
  fireEvent.keyDown(right.divider, { key: 'ArrowRight' });
  fireEvent.keyDown(right.divider, { key: 'ArrowLeft' });
  fireEvent.keyDown(right.divider, { key: 'ArrowRight', ctrlKey: true });
  fireEvent.keyDown(right.divider, { key: 'a' });
  expect(right.values).toEqual([310, 300]);
  cleanup();
  const left = show('left');
  fireEvent.keyDown(left.divider, { key: 'ArrowLeft' });
  expect(left.values).toEqual([310]);
});
