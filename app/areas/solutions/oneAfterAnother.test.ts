import { expect, it } from "vitest";
import { oneAfterAnother } from "./oneAfterAnother";

it("asks at once, then the newest of what was typed meanwhile, each once and the last one in any case", () => {
  const sent: string[] = [];
  const turns = oneAfterAnother<string>((asked) => sent.push(asked));
  turns.answered();
  turns.ask("1");
  turns.ask("1.");
  turns.ask("1.2");
  expect(sent).toEqual(["1"]);
  turns.answered();
  expect(sent).toEqual(["1", "1.2"]);
  turns.ask("1.25");
  turns.answered();
  turns.answered();
  expect(sent).toEqual(["1", "1.2", "1.25"]);
  turns.ask("1.25");
  expect(sent).toHaveLength(4);
});
