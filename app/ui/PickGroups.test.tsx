import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { PickGroups } from "./PickGroups";

/** The titles that stand in each column, of groups with so many cards. */
function columnsOf(...cards: number[]): string[][] {
  const groups = cards.map((count, at) => ({ title: `${at}`, cards: count, list: null }));
  const html = renderToStaticMarkup(<PickGroups heading="h2" groups={groups} />);
  return html
    .split('<div class="stack">')
    .slice(1)
    .map((column) => [...column.matchAll(/<h2>(\d+)<\/h2>/g)].map(([, title]) => title ?? ""));
}

describe("groups of cards in two columns", () => {
  it("keeps their order and makes both columns about as high", () => {
    expect(columnsOf(1, 1, 1, 1)).toEqual([
      ["0", "1"],
      ["2", "3"],
    ]);
    expect(columnsOf(5, 1, 1, 1)).toEqual([["0"], ["1", "2", "3"]]);
    expect(columnsOf(1, 1, 1, 6)).toEqual([["0", "1", "2"], ["3"]]);
  });

  it("makes one column of one group, and none of none", () => {
    expect(columnsOf(3)).toEqual([["0"]]);
    expect(columnsOf()).toEqual([]);
  });
});
