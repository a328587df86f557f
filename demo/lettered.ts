import { constants, deflateRawSync, inflateRawSync } from "node:zlib";
import { packDictionary } from "../app/server/platform/pack.server";
import { letterMark } from "./copies";

/**
 * Packs a document once for all benches. What is packed with the fixed codes of RFC 1951 (3.2.6) gives each letter eight bits that do not hang
 * on the text around it, so that the letter of a bench can be put in afterwards, at the places where a stand-in was packed.
 */
export interface Lettered {
  bytes: Uint8Array;
  /** The bits, counted from the first, at which a letter begins. */
  places: number[];
}

/** Another stand-in, which no text has either, to find the places by. */
const other = "\u0002";
const mark = letterMark.charCodeAt(0);

/** The fixed code of a letter is its number and 0x30, its highest bit first; bytes are filled from their lowest. */
function exchanged(from: number, to: number): number {
  const bits = (0x30 + from) ^ (0x30 + to);
  let turned = 0;
  for (let i = 0; i < 8; i++) if (bits & (1 << i)) turned |= 1 << (7 - i);
  return turned;
}

/** Puts a letter at places of bytes that have the stand-in there. */
export function putLetter(bytes: Uint8Array, places: Iterable<number>, letter: string): void {
  const bits = exchanged(mark, letter.charCodeAt(0));
  for (const place of places) {
    const at = place >> 3;
    const shifted = bits << (place & 7);
    bytes[at] = (bytes[at] ?? 0) ^ (shifted & 0xff);
    if (shifted > 0xff) bytes[at + 1] = (bytes[at + 1] ?? 0) ^ (shifted >> 8);
  }
}

/** The places where packed texts differ that have one stand-in or the other; undefined when they were not packed alike. */
function placesOf(a: Uint8Array, b: Uint8Array): number[] | undefined {
  if (a.length !== b.length) return undefined;
  const places: number[] = [];
  let bit = 0;
  while (bit < a.length * 8) {
    const differs = ((a[bit >> 3] ?? 0) ^ (b[bit >> 3] ?? 0)) >> (bit & 7);
    if (differs === 0) bit = (bit | 7) + 1;
    else if (differs & 1) {
      // The codes of 1 and 2 differ in their last two bits, the seventh and the eighth.
      places.push(bit - 6);
      bit += 2;
    } else bit++;
  }
  return places;
}

/** A text with one letter throughout, packed as the program does it but for the pains it takes. */
export function packWith(text: string, letter: string, level = 1): Uint8Array {
  const { Z_FIXED: strategy } = constants;
  const options = { level, memLevel: 6, chunkSize: 4096, strategy, dictionary: packDictionary };
  return deflateRawSync(text.replaceAll(letterMark, letter), options);
}

/**
 * A text that waits for the letter of its bench, packed. It is unpacked once with a letter, to be sure; where two ways of packing it do
 * not agree, more pains are taken. Throws when none do.
 */
export function packLettered(text: string): Lettered {
  for (const level of [1, 2, 3, 4]) {
    const bytes = packWith(text, letterMark, level);
    const places = placesOf(bytes, packWith(text, other, level));
    if (!places) continue;
    const tried = Uint8Array.from(bytes);
    putLetter(tried, places, "Z");
    const whole = inflateRawSync(tried, { dictionary: packDictionary }).toString("utf8");
    if (whole === text.replaceAll(letterMark, "Z")) return { bytes, places };
  }
  throw new Error("A document cannot be packed once for all benches.");
}
