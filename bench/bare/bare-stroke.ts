import { inkOutline, quantise } from '@jotmark/core';

/** The baseline of the pen: the same live stroke, drawn alone on one empty canvas, nothing else on the page. */
const canvas = document.querySelector('canvas')!;
const ctx = canvas.getContext('2d')!;
let points: number[] = [];
let down = false;
let frame = 0;

const draw = () => {
  frame = 0;
  ctx.clearRect(0, 0, canvas.width, canvas.height);
  const outline = inkOutline(points, 1.6);
  ctx.beginPath();
  for (const [i, p] of outline.entries()) {
    if (i) ctx.lineTo(p[0], p[1]);
    else ctx.moveTo(p[0], p[1]);
  }
  ctx.fillStyle = '#b0253a';
  ctx.fill();
};

addEventListener('pointerdown', () => {
  points = [];
  down = true;
});
addEventListener('pointermove', (e) => {
  if (!down) return;
  for (const c of e.getCoalescedEvents()) points.push(...quantise(c.clientX, c.clientY, c.pressure));
  if (!frame) frame = requestAnimationFrame(draw);
});
addEventListener('pointerup', () => {
  down = false;
});
