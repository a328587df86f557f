import { monotonicFactory } from "ulid";
import type { TestBench } from "../../app/server/testing/testBench";
import { type Fields, Visitor } from "./pages";

const ulid = monotonicFactory();

/** A moment so many hours ago. */
export const ago = (hours: number) => new Date(Date.now() - hours * 3_600_000).toISOString();

/** What somebody says of a bottle that is brought. */
export const bottleForm = (bench: TestBench, more: Fields = {}) => ({
  id: ulid(),
  code: "CP-A1",
  site: bench.site.id,
  type: "general",
  collected: ago(3),
  from: "The lifeguard",
  temperature_c: "5.1",
  note: "",
  ...more,
});

/** Receives a bottle through its page. */
export async function receivedBottle(bench: TestBench, more: Fields = {}) {
  const form = bottleForm(bench, more);
  const answer = await new Visitor(bench).send("/samples/new", form);
  if (answer.location !== `/samples/${form.id}`) throw new Error(answer.text);
  return form;
}
