import { inflateRawSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { pack, packDictionary, packKind, unpack } from "../app/server/platform/pack.server";
import { letterMark, letterOf } from "./copies";
import { packLettered, packWith, putLetter } from "./lettered";

const unpacked = (bytes: Uint8Array) =>
  inflateRawSync(bytes, { dictionary: packDictionary }).toString("utf8");
const benches = Array.from({ length: 14 }, (_, bench) => letterOf({ n: bench, bench, season: 0 }));

/** A document of so many entries: what the dictionary has, ids that come again, and letters of more than one byte. */
const documentOf = (entries: number) =>
  JSON.stringify(
    Array.from({ length: entries }, (_, i) => ({
      work_id: `01M8T3AQT5·04WWW84JER${String(i % 7).padStart(6, "0")}`,
      lot: `01K08B0FWE·5X10R8V4BP${String((i * 7919) % 999983).padStart(6, "0")}`,
      said: `${(i * 37) % 101} µS/cm at ${i % 40} °C – NH₃`,
      rule: "slope",
      severity: "ok",
    })),
  ).replaceAll("·", letterMark);

describe("a document packed once for all benches", () => {
  // One block of the packed form holds 4096 letters and repeats at most: the last of these takes many.
  for (const entries of [1, 12, 3000])
    it(`has the letter of each bench at every place, with ${entries} entries`, () => {
      const text = documentOf(entries);
      const { bytes, places } = packLettered(text);
      expect(places).not.toEqual([]);
      for (const letter of benches) {
        const own = Uint8Array.from(bytes);
        putLetter(own, places, letter);
        expect(unpacked(own)).toBe(text.replaceAll(letterMark, letter));
      }
      expect(unpacked(bytes)).toBe(text);
    });

  it("is the same without an id in it, and needs no place", () => {
    const { bytes, places } = packLettered('{"rule":"offset"}');
    expect(places).toEqual([]);
    expect(unpacked(bytes)).toBe('{"rule":"offset"}');
  });

  it("is read as what the program packed itself", () => {
    const text = documentOf(3);
    const kept = Buffer.concat([Buffer.from([packKind]), packWith(text, "B")]);
    const document = JSON.parse(text.replaceAll(letterMark, "B"));
    expect(unpack(kept)).toEqual(document);
    expect(unpack(pack(document))).toEqual(document);
  });

  it("begins an A eight bits wide where RFC 1951 (3.2.6) has it", () => {
    // After three bits of a block's head, the number of "A" (0x41) and 0x30, the highest bit first.
    const bits = [...packWith("A", "")].flatMap((byte) =>
      Array.from({ length: 8 }, (_, i) => (byte >> i) & 1),
    );
    expect(bits.slice(3, 11).join("")).toBe((0x41 + 0x30).toString(2).padStart(8, "0"));
  });
});
