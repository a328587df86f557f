import yauzl from "yauzl";

/** The files of a zip by their names. */
export async function unzip(file: Buffer): Promise<Map<string, Buffer>> {
  const files = new Map<string, Buffer>();
  await new Promise<void>((done, failed) =>
    yauzl.fromBuffer(file, { lazyEntries: true }, (error, zip) => {
      if (error || !zip) return failed(error);
      zip.on("entry", (entry: yauzl.Entry) =>
        zip.openReadStream(entry, async (_e, stream) => {
          const parts: Buffer[] = [];
          for await (const part of stream ?? []) parts.push(part as Buffer);
          files.set(entry.fileName, Buffer.concat(parts));
          zip.readEntry();
        }),
      );
      zip.on("end", done);
      zip.readEntry();
    }),
  );
  return files;
}
