import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { init, type WrappedPdfiumModule } from '@embedpdf/pdfium';

/** PDFium as wasm, by its upstream `FPDF*` calls only, so that another build can take its place. */
export type Engine = WrappedPdfiumModule;

let engine: Promise<Engine> | null = null;

export function loadEngine(): Promise<Engine> {
  engine ??= (async () => {
    const wasm = await readFile(createRequire(import.meta.url).resolve('@embedpdf/pdfium/pdfium.wasm'));
    const bytes = wasm.buffer.slice(wasm.byteOffset, wasm.byteOffset + wasm.byteLength) as ArrayBuffer;
    const module = await init({ wasmBinary: bytes });
    module.FPDF_InitLibrary();
    return module;
  })();
  return engine;
}

/** Opens a document for the length of `work`; the bytes live in the engine's memory that long. */
export async function withDocument<T>(
  bytes: Uint8Array,
  work: (engine: Engine, document: number) => T | Promise<T>,
): Promise<T> {
  const e = await loadEngine();
  const at = e.pdfium.wasmExports.malloc(bytes.length);
  (e.pdfium as unknown as { HEAPU8: Uint8Array }).HEAPU8.set(bytes, at);
  const document = e.FPDF_LoadMemDocument(at, bytes.length, '');
  try {
    if (!document) throw new Error(`PDFium cannot open this: ${e.FPDF_GetLastError()}`);
    return await work(e, document);
  } finally {
    if (document) e.FPDF_CloseDocument(document);
    e.pdfium.wasmExports.free(at);
  }
}
