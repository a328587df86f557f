import { getDocument } from "pdfjs-dist/legacy/build/pdf.mjs";

/** The text of a PDF, page by page, by an independent reader. */
export async function textOfPdf(pdf: Buffer): Promise<string[]> {
  const document = await getDocument({ data: new Uint8Array(pdf), useSystemFonts: true, verbosity: 0 })
    .promise;
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
