import { PDFDocument } from '@cantoo/pdf-lib';
import { MOST_PIXELS_OF_A_PICTURE } from '@jotmark/core';
import sharp from 'sharp';

/** A photo is kept this sharp for reading and marking: about 250 dots an inch on A4. */
const LONG_SIDE = 2900;
/** A page's long side in points: A4. */
const PAGE_SIDE = 842;

/** A picture as a PDF of one page, turned upright as its EXIF says, see-through parts on white. */
export async function pictureToPdf(file: string): Promise<Uint8Array> {
  const { data, info } = await sharp(file, {
    limitInputPixels: MOST_PIXELS_OF_A_PICTURE,
    sequentialRead: true,
  })
    .rotate()
    .resize({ width: LONG_SIDE, height: LONG_SIDE, fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#ffffff' })
    .toColourspace('srgb')
    .jpeg({ quality: 85, mozjpeg: false })
    .toBuffer({ resolveWithObject: true });
  const pdf = await PDFDocument.create();
  const image = await pdf.embedJpg(data);
  const scale = PAGE_SIDE / Math.max(info.width, info.height);
  const page = pdf.addPage([info.width * scale, info.height * scale]);
  page.drawImage(image, { x: 0, y: 0, width: page.getWidth(), height: page.getHeight() });
  return pdf.save();
}
