import { getDocument } from "pdfjs-dist/legacy/build/pdf.mjs";

const read = (pdf: Buffer) =>
  getDocument({ data: new Uint8Array(pdf), useSystemFonts: true, verbosity: 0 }).promise;

/** What the parts of a PDF are, in their order, and what it says of itself, by an independent reader. */
export async function partsOfPdf(
  pdf: Buffer,
): Promise<{ roles: string[]; alts: string[]; lang: string; marked: boolean; title: string }> {
  const document = await read(pdf);
  const roles: string[] = [];
  const alts: string[] = [];
  const walk = (node: { role?: string; alt?: string; children?: unknown[] }) => {
    if (node.role) roles.push(node.role);
    if (node.alt) alts.push(node.alt);
    for (const child of node.children ?? []) walk(child as typeof node);
  };
  for (let n = 1; n <= document.numPages; n++) {
    const tree = await (await document.getPage(n)).getStructTree();
    if (tree) walk(tree);
  }
  const { info } = (await document.getMetadata()) as unknown as {
    info: { Language?: string; Title?: string };
  };
  const marked = Boolean((await document.getMarkInfo())?.Marked);
  await document.destroy();
  return { roles, alts, lang: info.Language ?? "", marked, title: info.Title ?? "" };
}

/** The text of a PDF, page by page, by an independent reader. */
export async function textOfPdf(pdf: Buffer): Promise<string[]> {
  const document = await read(pdf);
  const pages: string[] = [];
  for (let n = 1; n <= document.numPages; n++) {
    const { items } = await (await document.getPage(n)).getTextContent();
    pages.push(
      items
        .map((i) => ("str" in i ? i.str : ""))
        .join(" ")
        .replace(/\s+/g, " "),
    );
  }
  await document.destroy();
  return pages;
}

/** What is written on a PDF and where: how large, how far from the left and from the bottom of its page, in points. */
export async function piecesOfPdf(
  pdf: Buffer,
): Promise<{ page: number; text: string; size: number; x: number; y: number; width: number }[]> {
  const document = await read(pdf);
  const pieces = [];
  for (let page = 1; page <= document.numPages; page++) {
    const { items } = await (await document.getPage(page)).getTextContent();
    for (const item of items) {
      if (!("str" in item) || item.str.trim() === "") continue;
      const [, , , size = 0, x = 0, y = 0] = item.transform as number[];
      // The reader may give the micro sign as the letter mu.
      pieces.push({ page, text: item.str.replaceAll("μ", "µ"), size, x, y, width: item.width });
    }
  }
  await document.destroy();
  return pieces;
}
