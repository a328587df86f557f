import { afterEach, beforeEach, vi } from "vitest";
import * as ofProcess from "../platform/database.server";
import type { TestBench } from "./testBench";

/** In each test, the bench's database is that of the process: for what asks for it by itself. Comes after the bench it is of. */
export function asTheDatabase(hands: { readonly bench: TestBench }): void {
  beforeEach(() => {
    vi.spyOn(ofProcess, "database").mockImplementation(async () => hands.bench.db);
    vi.spyOn(ofProcess, "databasePlace").mockReturnValue(":memory:");
  });
  afterEach(() => {
    vi.restoreAllMocks();
  });
}
