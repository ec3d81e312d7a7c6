import { LINED } from '@jotmark/core';

/** An empty lined page as a PDF: rules and nothing else. It is made, not opened, so no library is needed for it. */
export function linedPdf(): Uint8Array {
  const { width, height, left, right, top, leading, rule, lines } = LINED;
  const rules = Array.from({ length: lines }, (_, k) => {
    const y = height - top - k * leading - rule;
    return `${left} ${y} m ${right} ${y} l`;
  });
  const drawing = `0.83 0.86 0.89 RG 0.5 w\n${rules.join('\n')}\nS`;
  const objects = [
    '<< /Type /Catalog /Pages 2 0 R >>',
    '<< /Type /Pages /Kids [3 0 R] /Count 1 >>',
    `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 ${width} ${height}] /Resources << >> /Contents 4 0 R >>`,
    `<< /Length ${drawing.length} >>\nstream\n${drawing}\nendstream`,
  ];
  let pdf = '%PDF-1.7\n';
  const starts = objects.map((object, i) => {
    const at = pdf.length;
    pdf += `${i + 1} 0 obj\n${object}\nendobj\n`;
    return at;
  });
  const table = pdf.length;
  const rows = starts.map((at) => `${String(at).padStart(10, '0')} 00000 n \n`).join('');
  pdf += `xref\n0 ${objects.length + 1}\n0000000000 65535 f \n${rows}`;
  pdf += `trailer\n<< /Size ${objects.length + 1} /Root 1 0 R >>\nstartxref\n${table}\n%%EOF\n`;
  return new TextEncoder().encode(pdf);
}
