import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { DayField, MeantDay } from "./DayField";

const shown = (day: string) => renderToStaticMarkup(<MeantDay day={day} />);

describe("a day in a browser's field", () => {
  it("is said in words, whatever order the browser writes it in", () => {
    expect(shown("2027-03-04")).toBe('<b class="nowrap">Thu 4 Mar 2027</b>.');
    expect(shown("2027-04-03")).toContain("Sat 3 Apr 2027");
  });

  it("says nothing while it is none, or of a year of five figures", () => {
    expect(shown("")).toBe("");
    expect(shown("12027-03-04")).toBe("");
  });

  it("is what the field is described by, beside what is wrong with it and its hint", () => {
    const field = renderToStaticMarkup(
      <DayField
        name="expires_on"
        label="Expires"
        initial="2027-03-04"
        wrong="It is over."
        hint="As printed."
      />,
    );
    expect(field).toContain('aria-describedby="expires_on-says"');
    expect(field).toContain('aria-invalid="true"');
    const [, says = ""] = field.split('id="expires_on-says">');
    const words = says
      .replace(/<[^>]*>/g, " ")
      .replace(/ +/g, " ")
      .trim();
    expect(words).toBe("It is over. Thu 4 Mar 2027 . As printed.");
  });
});
