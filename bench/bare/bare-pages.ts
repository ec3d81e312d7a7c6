import * as pdfjs from 'pdfjs-dist';
import pdfjsWorker from 'pdfjs-dist/build/pdf.worker.min.mjs?url';

/** Bare drawing of a page from its address: by the engine in a worker, and by pdf.js in its own. Each gives milliseconds. */
pdfjs.GlobalWorkerOptions.workerSrc = pdfjsWorker;
const pdfjsThread = new pdfjs.PDFWorker();
const worker = new Worker(new URL('./bare-engine.worker.ts', import.meta.url), { type: 'module' });
const warm = new Promise<void>((resolve) =>
  worker.addEventListener('message', () => resolve(), { once: true }),
);
const canvas = document.querySelector('canvas')!;

async function engine(address: string, width: number, height: number): Promise<number> {
  await warm;
  const start = performance.now();
  const bytes = await (await fetch(address, { cache: 'no-store' })).arrayBuffer();
  const picture = await new Promise<ImageBitmap>((resolve) => {
    worker.addEventListener('message', (e) => resolve(e.data), { once: true });
    worker.postMessage({ bytes, width, height }, [bytes]);
  });
  canvas.width = width;
  canvas.height = height;
  canvas.getContext('2d', { alpha: false })!.drawImage(picture, 0, 0);
  return performance.now() - start;
}

async function other(address: string, width: number): Promise<number> {
  await pdfjsThread.promise;
  const start = performance.now();
  const data = await (await fetch(address, { cache: 'no-store' })).arrayBuffer();
  const pdf = await pdfjs.getDocument({ data, worker: pdfjsThread }).promise;
  const page = await pdf.getPage(1);
  const viewport = page.getViewport({ scale: width / page.getViewport({ scale: 1 }).width });
  canvas.width = viewport.width;
  canvas.height = viewport.height;
  await page.render({ canvas, canvasContext: canvas.getContext('2d')!, viewport }).promise;
  const taken = performance.now() - start;
  await pdf.destroy();
  return taken;
}

Object.assign(window, { bare: { engine, other } });
