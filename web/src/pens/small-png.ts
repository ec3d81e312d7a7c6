/** As large as a stamp's picture may be, in pixels and in letters of base64. */
const SIDE = 96;
const MOST = 30_000;

/** A picture file made small enough for a stamp, as PNG in base64; null where it cannot be read. */
export async function smallPng(file: Blob): Promise<string | null> {
  const bitmap = await createImageBitmap(file).catch(() => null);
  if (!bitmap) return null;
  // A photograph may be too many bytes even at this size: then it is made smaller still.
  for (let side = SIDE; side >= 24; side /= 2) {
    const by = Math.min(1, side / Math.max(bitmap.width, bitmap.height));
    const canvas = document.createElement('canvas');
    canvas.width = Math.max(1, Math.round(bitmap.width * by));
    canvas.height = Math.max(1, Math.round(bitmap.height * by));
    canvas.getContext('2d')!.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
    const png = canvas.toDataURL('image/png').split(',')[1]!;
    if (png.length <= MOST) return png;
  }
  return null;
}
