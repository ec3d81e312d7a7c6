import { init, type WrappedPdfiumModule } from '@embedpdf/pdfium';
import wasmUrl from '@embedpdf/pdfium/pdfium.wasm?url';

/** The baseline of the desk: the engine alone, told to draw one page of some bytes. */
const engine: Promise<WrappedPdfiumModule> = (async () => {
  const module = await init({ wasmBinary: await (await fetch(wasmUrl)).arrayBuffer() });
  module.FPDF_InitLibrary();
  return module;
})();
engine.then(() => postMessage('warm'));

addEventListener(
  'message',
  async ({ data }: MessageEvent<{ bytes: ArrayBuffer; width: number; height: number }>) => {
    const e = await engine;
    const bytes = new Uint8Array(data.bytes);
    const heap = () => (e.pdfium as unknown as { HEAPU8: Uint8Array<ArrayBuffer> }).HEAPU8;
    const at = e.pdfium.wasmExports.malloc(bytes.length);
    heap().set(bytes, at);
    const document = e.FPDF_LoadMemDocument(at, bytes.length, '');
    const page = e.FPDF_LoadPage(document, 0);
    const bitmap = e.FPDFBitmap_Create(data.width, data.height, 0);
    e.FPDFBitmap_FillRect(bitmap, 0, 0, data.width, data.height, 0xffffffff);
    e.FPDF_RenderPageBitmap(bitmap, page, 0, 0, data.width, data.height, 0, 0x11);
    const from = e.FPDFBitmap_GetBuffer(bitmap);
    const pixels = new Uint8ClampedArray(heap().slice(from, from + data.width * data.height * 4).buffer);
    const picture = await createImageBitmap(new ImageData(pixels, data.width, data.height));
    e.FPDFBitmap_Destroy(bitmap);
    e.FPDF_ClosePage(page);
    e.FPDF_CloseDocument(document);
    e.pdfium.wasmExports.free(at);
    (postMessage as (m: unknown, t: Transferable[]) => void)(picture, [picture]);
  },
);
