import { spawnSync } from "node:child_process";
import { describe, expect, it } from "vitest";

/** The command line as a script would call it. */
function calc(
  args: string[],
  input = "",
): { status: number | null; lines: Record<string, unknown>[]; raw: string } {
  const done = spawnSync(process.execPath, ["scripts/run.mjs", "scripts/calc.ts", ...args], {
    input,
    encoding: "utf8",
    maxBuffer: 1e9,
  });
  const lines = done.stdout
    .split("\n")
    .filter(Boolean)
    .map((line) => JSON.parse(line));
  return { status: done.status, lines, raw: done.stdout };
}

const ideal = {
  points: [
    { buffer_ph: 7, mv: 0, temperature_c: 25 },
    { buffer_ph: 4.01, mv: 176.9, temperature_c: 25 },
  ],
};

describe("the command line", () => {
  it("answers one object for one calculation", () => {
    // Source: Nernst slope at 25 °C, 59.16 mV per pH (CODATA constants).
    const { status, lines } = calc(["ph-calibration", JSON.stringify(ideal)]);
    expect(status).toBe(0);
    expect(lines).toHaveLength(1);
    const outputs = lines[0]?.outputs as {
      slope_mv_per_ph: number;
      slope_percent: number;
      offset_mv: number;
    };
    expect(Math.abs(outputs.slope_mv_per_ph + 59.16)).toBeLessThan(0.05);
    expect(Math.abs(outputs.slope_percent - 100)).toBeLessThan(0.05);
    expect(Math.abs(outputs.offset_mv)).toBeLessThan(0.05);
    expect(Object.keys(lines[0] ?? {})).toEqual(["id", "outputs", "working", "warnings", "sources"]);
  });

  it("ends with status 2 on bad input, with a path and a sentence", () => {
    const { status, lines } = calc(["ph-buffer", '{"buffer":"borate","temperature_c":99}']);
    expect(status).toBe(2);
    expect(lines[0]).toEqual({
      id: "ph-buffer",
      errors: [
        {
          path: "temperature_c",
          message: "The standard's table runs from 0 to 40 °C; 99 °C lies outside it.",
        },
      ],
    });
  });

  it("ends with status 2 on what is not JSON, and on an unknown calculator", () => {
    expect(calc(["ph-buffer", "{borate}"]).status).toBe(2);
    expect(calc(["alchemy", "{}"]).status).toBe(2);
    expect(calc(["ph-buffer"]).status).toBe(2);
  });

  it("answers line by line in order, and goes on after bad lines, over many and however they end", () => {
    const buffer = (temperature_c: unknown) =>
      JSON.stringify({ id: "ph-buffer", inputs: { buffer: "phosphate", temperature_c } });
    const odd = [
      buffer(25),
      "{not json",
      buffer("warm"),
      '{"inputs":{}}',
      "",
      '{"id":"alchemy","inputs":{}}',
      `${buffer(20)}\r`,
    ];
    const many = Array<string>(2000).fill(JSON.stringify({ id: "ph-calibration", inputs: ideal }));
    const { status, lines } = calc([], [...odd, ...many, ""].join("\n"));
    expect(status).toBe(0);
    expect(lines.slice(0, 6).map((line) => ("errors" in line ? "bad" : "good"))).toEqual([
      "good",
      "bad",
      "bad",
      "bad",
      "bad",
      "good",
    ]);
    expect(lines[5]).toMatchObject({ id: "ph-buffer", outputs: { ph: 6.881 } });
    expect(lines[3]).toMatchObject({ errors: [{ path: "id" }] });
    expect(lines).toHaveLength(2006);
    expect(lines.slice(6).every((l) => "outputs" in l)).toBe(true);
  });
});
