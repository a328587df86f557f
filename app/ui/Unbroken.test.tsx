import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { Unbroken } from "./Unbroken";

const shown = (text: string) => renderToStaticMarkup(<Unbroken>{text}</Unbroken>);

describe("a text in a narrow place", () => {
  it("keeps the codes of bottles and meters whole, and words with a hyphen as they are", () => {
    expect(shown("Z-31, K-718-09 and a glass-stoppered pair")).toBe(
      '<span class="nowrap">Z-31</span>, <span class="nowrap">K-718-09</span> and a glass-stoppered pair',
    );
  });
  it("sets formulas low, keeps them whole, and a number with its unit", () => {
    expect(shown("Nitrate as NO3-N 7.5 mg/L")).toBe(
      'Nitrate as <span class="nowrap">NO<sub>3</sub>-N</span> 7.5\u00a0mg/L',
    );
  });
});
