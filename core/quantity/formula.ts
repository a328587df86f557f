/** Formulas that occur in names and sentences of the bench; nothing else is taken for one, since codes of bottles look alike. */
const formulas = [
  "NO3",
  "NO2",
  "NH3",
  "NH4",
  "PO4",
  "P2O5",
  "SiO2",
  "CaCO3",
  "HCO3",
  "CO3",
  "CO2",
  "SO4",
  "O2",
  "Cl2",
  "H2S",
  "H2SO4",
  "Na2S2O3",
  "MnSO4",
  "KIO3",
] as const;

const known = new RegExp(
  `(?<![A-Za-z0-9-])(?:${[...formulas].sort((a, b) => b.length - a.length).join("|")})(?![A-Za-z0-9])`,
  "g",
);

/** A piece of a text: as it stands, or set low. */
export interface TextPart {
  text: string;
  low: boolean;
}

/**
 * A text in pieces, with the figures of its chemical formulas apart, to be set low; kept and sent texts stay plain. Source: the
 * way formulas are written (IUPAC). Check value: "Nitrate as NO3-N" is "Nitrate as NO", low "3", "-N".
 */
export function formulaParts(text: string): TextPart[] {
  const parts: TextPart[] = [];
  let from = 0;
  for (const found of text.matchAll(known)) {
    for (const figure of found[0].matchAll(/\d+/g)) {
      const at = found.index + figure.index;
      parts.push({ text: text.slice(from, at), low: false }, { text: figure[0], low: true });
      from = at + figure[0].length;
    }
  }
  if (from < text.length) parts.push({ text: text.slice(from), low: false });
  return parts;
}
