import { unbroken } from "../../core/quantity/unbroken";
import { Formula } from "./Formula";

/** Codes of bottles and meters, and forms as NO3-N: a line may end behind their hyphens, and what is left of them reads like another code. */
const code = /(\b[A-Z][A-Z0-9]*(?:-[A-Z0-9]+)+\b)/;

/** A text for a narrow place: no line of it ends within a code, or between a number and its unit. */
export const Unbroken = ({ children }: { children: string }) =>
  unbroken(children)
    .split(code)
    .map((part, i) =>
      i % 2 === 0 ? (
        <Formula key={i}>{part}</Formula>
      ) : (
        <span key={i} className="nowrap">
          <Formula>{part}</Formula>
        </span>
      ),
    );
