import { PDFArray, PDFDict, type PDFDocument, PDFName } from '@cantoo/pdf-lib';

/** What may stay of actions on a page's annotations: places in the document and addresses on the web. */
const HARMLESS = new Set(['GoTo', 'URI']);

/**
 * Takes out everything that would run or call when the document is opened or touched: OpenAction, additional actions, document
 * scripts, and actions of annotations other than links. Gives how many were found; 0 means the document is unchanged.
 */
export function takeOutScripts(pdf: PDFDocument): number {
  let found = 0;
  const drop = (dict: PDFDict, key: string) => {
    if (dict.has(PDFName.of(key))) {
      dict.delete(PDFName.of(key));
      found++;
    }
  };
  const harmful = (action: unknown) =>
    action instanceof PDFDict &&
    !HARMLESS.has(action.lookupMaybe(PDFName.of('S'), PDFName)?.decodeText() ?? '');
  const catalog = pdf.catalog;
  drop(catalog, 'AA');
  if (!(catalog.lookup(PDFName.of('OpenAction')) instanceof PDFArray)) drop(catalog, 'OpenAction');
  const names = catalog.lookup(PDFName.of('Names'));
  if (names instanceof PDFDict) drop(names, 'JavaScript');
  const form = catalog.lookup(PDFName.of('AcroForm'));
  if (form instanceof PDFDict) drop(form, 'XFA');
  for (const page of pdf.getPages()) {
    drop(page.node, 'AA');
    const annots = page.node.Annots();
    for (let i = 0; annots && i < annots.size(); i++) {
      const annot = annots.lookup(i);
      if (!(annot instanceof PDFDict)) continue;
      drop(annot, 'AA');
      if (harmful(annot.lookup(PDFName.of('A')))) drop(annot, 'A');
    }
  }
  return found;
}
