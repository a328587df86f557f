import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { DayField, MeantDay } from "./DayField";

const shown = (day: string) => renderToStaticMarkup(<MeantDay day={day} />);

describe("a day in a browser's field", () => {
  it("is said in words, whatever order the browser writes it in", () => {
    expect(shown("2027-03-04")).toBe('<div class="hint"><b>Thu 4 Mar 2027</b></div>');
    expect(shown("2027-04-03")).toContain("Sat 3 Apr 2027");
  });

  it("says nothing while it is none, or of a year of five figures", () => {
    expect(shown("")).toBe("");
    expect(shown("12027-03-04")).toBe("");
  });

  it("is what the field is described by, before what is wrong with it, which stands in place of the hint", () => {
    const field = renderToStaticMarkup(
      <DayField
        name="expires_on"
        label="Expires"
        initial="2027-03-04"
        wrong="It is over."
        hint="As printed."
      />,
    );
    expect(field).toContain('aria-invalid="true"');
    const said = /aria-describedby="([^"]+)"/.exec(field)?.[1];
    const [, says = ""] = field.split(`id="${said}">`);
    expect(says).toMatch(/Thu 4 Mar 2027.*It is over\./);
    expect(field).not.toContain("As printed.");
  });
});
