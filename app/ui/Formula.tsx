import { Fragment } from "react";
import { formulaParts } from "../../core/quantity/formula";

/** A name or a sentence with its chemical formulas as they are written: figures low. */
export function Formula({ children }: { children: string }) {
  return formulaParts(children).map((part, i) =>
    part.low ? <sub key={i}>{part.text}</sub> : <Fragment key={i}>{part.text}</Fragment>,
  );
}
