import type { Method } from "../methods/method";
import type { MixedColour } from "./practiceWater";

/** A colour and what one calls it. */
interface Tint {
  colour: string;
  words: string;
}

/** What a titration looks like: before its end, just before it, and at its end. */
export interface EndPointColours {
  before: Tint;
  nearly: Tint;
  after: Tint;
}

/** By what is measured. The order of the colours is common practice; the shades are invented. */
const byParameter: Readonly<Record<string, EndPointColours>> = {
  // Starch and iodine, with thiosulfate.
  oxygen: {
    before: { colour: "#27306b", words: "dark blue" },
    nearly: { colour: "#8d74b8", words: "a last purple" },
    after: { colour: "#f3f1ea", words: "colourless" },
  },
  // Bromcresol green with methyl red, with acid.
  alkalinity: {
    before: { colour: "#2f7d78", words: "blue-green" },
    nearly: { colour: "#a99aa2", words: "pink grey" },
    after: { colour: "#d8736a", words: "pink" },
  },
  // Eriochrome black T, with EDTA.
  hardness: {
    before: { colour: "#8e2a55", words: "wine red" },
    nearly: { colour: "#67438f", words: "violet, a last red in it" },
    after: { colour: "#2b5fa8", words: "pure blue" },
  },
  // Chromate, with silver nitrate.
  chloride: {
    before: { colour: "#eadb5c", words: "lemon yellow" },
    nearly: { colour: "#dba95c", words: "a first reddish tint" },
    after: { colour: "#b86a3c", words: "reddish brown" },
  },
};
const anyOther: EndPointColours = {
  before: { colour: "#f3f1ea", words: "colourless" },
  nearly: { colour: "#ecccd6", words: "a first pink" },
  after: { colour: "#d77fa1", words: "pink" },
};

/** The colours of a titration by what it measures. Source: common practice. Check value: hardness turns from wine red to pure blue. */
export const endPointColours = ({ result }: Pick<Method, "result">): EndPointColours =>
  (Object.hasOwn(byParameter, result.parameter) ? byParameter[result.parameter] : undefined) ?? anyOther;

/**
 * The colour of a titration that has turned so far, from 0 to 1: by way of the colour just before the end. Check value: at 0.5 it is the one just
 * before the end, at 1 that of the end.
 */
export const titrationColour = ({ before, nearly, after }: EndPointColours, share: number): MixedColour =>
  share < 0.5
    ? { from: before.colour, to: nearly.colour, share: 2 * share }
    : { from: nearly.colour, to: after.colour, share: 2 * share - 1 };

/** What one calls a colour that has turned so far, from 0 to 1. Check value: 0.5 of hardness is "violet, a last red in it". */
export const colourWords = ({ before, nearly, after }: EndPointColours, share: number): string =>
  share < 0.12 ? before.words : share < 0.8 ? nearly.words : after.words;
