import "../styles/picks.css";
import type { ReactNode } from "react";

interface Group {
  title: string;
  /** How many cards its list has. */
  cards: number;
  list: ReactNode;
}

/** About how high a group is, in cards: its heading and the gap below it are as high as two thirds of one. */
const heightOf = ({ cards }: Group) => cards + 0.7;
const together = (groups: readonly Group[]) => groups.reduce((sum, group) => sum + heightOf(group), 0);

/** After how many groups the second column begins, so that both are about as high. */
function firstOfSecond(groups: readonly Group[]): number {
  const whole = together(groups);
  const unevenWith = (count: number) => Math.abs(whole - 2 * together(groups.slice(0, count)));
  return groups.reduce(
    (best, _, at) => (unevenWith(at + 1) < unevenWith(best) ? at + 1 : best),
    groups.length,
  );
}

/**
 * Groups of cards in two columns that are filled one after the other, in one where there is no room for two. Which groups the first column
 * takes is reckoned here: a browser that balances columns by itself lays all of them out several times.
 */
export function PickGroups({ groups, heading: Heading }: { groups: readonly Group[]; heading: "h2" | "h3" }) {
  const second = firstOfSecond(groups);
  return (
    <div className="pick-groups">
      {[groups.slice(0, second), groups.slice(second)].map(
        (column) =>
          column.length > 0 && (
            <div key={column[0]?.title} className="stack">
              {column.map(({ title, cards, list }) => (
                <section
                  key={title}
                  aria-label={title}
                  className="stack close"
                  style={{ "--cards": cards } as React.CSSProperties}
                >
                  <Heading>{title}</Heading>
                  {list}
                </section>
              ))}
            </div>
          ),
      )}
    </div>
  );
}
