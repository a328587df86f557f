import { expect, it } from "vitest";
import { config, configTrouble } from "./config.server";

it("an empty environment is enough", () => {
  expect(configTrouble({})).toBeNull();
  expect(config({})).toMatchObject({
    BRINTEL_DATABASE: "data/brintel.sqlite",
    BRINTEL_BACKUP_HOURS: 24,
    BRINTEL_TLS: false,
  });
});

it.each([
  [{ BRINTEL_BACKUP_HOURS: "daily" }, "BRINTEL_BACKUP_HOURS"],
  [{ PORT: "99999" }, "PORT"],
  [{ BRINTEL_LOG: "loud" }, "BRINTEL_LOG"],
  [{ BRINTEL_TLS: "yes" }, "BRINTEL_TLS"],
])("%o is refused by name, before anything is opened", (env, name) => {
  expect(configTrouble(env as NodeJS.ProcessEnv)).toContain(`  ${name}: `);
  expect(() => config(env as NodeJS.ProcessEnv)).toThrow(name);
});

it("says each wrong setting on a line of its own", () => {
  const trouble = configTrouble({ PORT: "x", BRINTEL_LOG: "loud" } as NodeJS.ProcessEnv);
  expect(trouble?.split("\n")).toHaveLength(4);
});
