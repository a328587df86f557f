/** A PDF as a file to keep. */
export const pdfAnswer = (pdf: Uint8Array, name: string): Response =>
  new Response(new Uint8Array(pdf), {
    headers: {
      "Content-Type": "application/pdf",
      "Content-Disposition": `attachment; filename="${name}.pdf"`,
    },
  });
