import { Link } from "react-router";
import { kindWords } from "../../core/bench/resultKinds";
import { counted } from "../../core/quantity/format";
import type { OwedNow as Owed } from "../server/quality/overview.server";
import { DueMark } from "./DueMark";

/** The checks that are owed to what is in hand, each a tap away. Nothing where none is. */
export const OwedNow = ({ owed }: { owed: readonly Owed[] }) =>
  owed.length === 0 ? null : (
    <section className="stack close" aria-label="Owed now">
      {owed.map(({ kind, since, href }) => {
        const word = kindWords[kind].toLowerCase();
        return (
          <p key={kind} className="note">
            <DueMark />
            <span>
              {since === null
                ? `No ${word} was measured with it today: results count with a note until one is.`
                : `The last ${word} is ${counted(since, "sample")} ago.`}{" "}
              <Link to={href}>Measure the {word} now</Link>
            </span>
          </p>
        );
      })}
    </section>
  );
