import { PDFArray, type PDFDocument, PDFName, PDFPageLeaf, PDFPageTree, PDFRef } from '@cantoo/pdf-lib';
import { FILE_LIMITS } from '@jotmark/core';

/** What a page has from the part of the tree it stands in (ISO 32000-1, table 30). */
const INHERITED = ['Resources', 'MediaBox', 'CropBox', 'Rotate'].map((key) => PDFName.of(key));

/**
 * A page that stands in a file twice is two pages to who reads and marks it: each gets an object of its own, or marks on one would be on the other as well.
 * Gives how many were parted; 0 means the document is unchanged.
 */
export function partPages(pdf: PDFDocument): number {
  const seen = new Set<PDFRef>();
  let parted = 0;
  const ownCopy = (leaf: PDFPageLeaf, parent: PDFRef): PDFRef => {
    const copy = leaf.clone(pdf.context);
    for (const key of INHERITED) {
      const value = leaf.getInheritableAttribute(key);
      if (value) copy.set(key, value);
    }
    const annots = leaf.Annots();
    if (annots) copy.set(PDFName.of('Annots'), pdf.context.obj(annots.asArray()));
    copy.setParent(parent);
    parted++;
    return pdf.context.register(copy);
  };
  /** What comes in the place of one of the tree's children. */
  const inPlace = (kid: PDFRef, parent: PDFRef): PDFRef[] => {
    const node = pdf.context.lookup(kid);
    const again = seen.has(kid);
    seen.add(kid);
    if (node instanceof PDFPageLeaf) return [again ? ownCopy(node, parent) : kid];
    if (!(node instanceof PDFPageTree)) return [kid];
    if (again) return leavesOf(pdf, node).map((leaf) => ownCopy(leaf, parent));
    const kids = node.Kids().asArray();
    const now = kids.flatMap((k) => (k instanceof PDFRef ? inPlace(k, kid) : [k]));
    if (now.some((k, i) => k !== kids[i])) node.set(PDFName.of('Kids'), pdf.context.obj(now));
    return [kid];
  };
  const root = pdf.catalog.get(PDFName.of('Pages'));
  if (root instanceof PDFRef) inPlace(root, root);
  return parted;
}

/** The pages below a part of the tree, as often as they stand there; no more than a file may have. */
function leavesOf(pdf: PDFDocument, tree: PDFPageTree): PDFPageLeaf[] {
  const out: PDFPageLeaf[] = [];
  const below = (node: unknown, deep: number): void => {
    if (out.length >= FILE_LIMITS.pages || deep > 50) return;
    if (node instanceof PDFPageLeaf) out.push(node);
    else if (node instanceof PDFPageTree) {
      const kids = node.lookup(PDFName.of('Kids'));
      if (kids instanceof PDFArray) for (const k of kids.asArray()) below(pdf.context.lookup(k), deep + 1);
    }
  };
  below(tree, 0);
  return out;
}
