import { init, type WrappedPdfiumModule } from '@embedpdf/pdfium';
import wasmUrl from '@embedpdf/pdfium/pdfium.wasm?url';
import type { FromWorker, ToWorker } from './engine-messages.ts';

/** PDFium in a worker of its own: after an engine abort it is thrown away whole. Only upstream `FPDF*` calls. */
const ANNOTATIONS = 0x01;
const RGBA_ORDER = 0x10;

const scope = self as unknown as {
  postMessage(m: FromWorker, transfer: Transferable[]): void;
  onmessage: ((e: MessageEvent<ToWorker>) => void) | null;
};

const engine: Promise<WrappedPdfiumModule> = (async () => {
  const response = await fetch(wasmUrl);
  const module = await init({ wasmBinary: await response.arrayBuffer() });
  module.FPDF_InitLibrary();
  return module;
})();

const documents = new Map<string, { at: number; handle: number }>();

const heap = (e: WrappedPdfiumModule) => (e.pdfium as unknown as { HEAPU8: Uint8Array<ArrayBuffer> }).HEAPU8;

async function work(message: ToWorker): Promise<ImageBitmap | null> {
  const e = await engine;
  switch (message.kind) {
    case 'warm':
      return null;
    case 'open': {
      if (documents.has(message.key)) return null;
      const bytes = new Uint8Array(message.bytes);
      const at = e.pdfium.wasmExports.malloc(bytes.length);
      heap(e).set(bytes, at);
      const handle = e.FPDF_LoadMemDocument(at, bytes.length, '');
      if (!handle) {
        e.pdfium.wasmExports.free(at);
        throw new Error(`cannot open: ${e.FPDF_GetLastError()}`);
      }
      documents.set(message.key, { at, handle });
      return null;
    }
    case 'close': {
      const open = documents.get(message.key);
      if (!open) return null;
      documents.delete(message.key);
      e.FPDF_CloseDocument(open.handle);
      e.pdfium.wasmExports.free(open.at);
      return null;
    }
    case 'draw': {
      const open = documents.get(message.key);
      if (!open) throw new Error('not open');
      return draw(e, open.handle, message);
    }
  }
}

function draw(
  e: WrappedPdfiumModule,
  handle: number,
  m: Extract<ToWorker, { kind: 'draw' }>,
): Promise<ImageBitmap> {
  const page = e.FPDF_LoadPage(handle, m.page);
  if (!page) throw new Error(`no page ${m.page}`);
  const bitmap = e.FPDFBitmap_Create(m.width, m.height, 0);
  try {
    e.FPDFBitmap_FillRect(bitmap, 0, 0, m.width, m.height, 0xffffffff);
    e.FPDF_RenderPageBitmap(bitmap, page, 0, 0, m.width, m.height, m.turn / 90, ANNOTATIONS | RGBA_ORDER);
    const at = e.FPDFBitmap_GetBuffer(bitmap);
    const pixels = new Uint8ClampedArray(heap(e).slice(at, at + m.width * m.height * 4).buffer);
    return createImageBitmap(new ImageData(pixels, m.width, m.height), { premultiplyAlpha: 'none' });
  } finally {
    e.FPDFBitmap_Destroy(bitmap);
    e.FPDF_ClosePage(page);
  }
}

scope.onmessage = ({ data }) => {
  work(data).then(
    (bitmap) => scope.postMessage({ id: data.id, ok: true, bitmap }, bitmap ? [bitmap] : []),
    (error: unknown) => scope.postMessage({ id: data.id, ok: false, error: String(error) }, []),
  );
};
