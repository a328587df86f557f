/** Writes the style sheets of the interface components in use, with our theme in light and dark, at build time. */
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { extractStyle } from "@ant-design/static-style-extract";
import * as antd from "antd";
import { ConfigProvider, type ThemeConfig } from "antd";
import type { ReactElement } from "react";
import { darkTheme, lightTheme } from "../app/theme";

const folder = "app/styles";

/** Each sheet: the components whose rules are in it, as they are used. What stands in the first is in no other. */
const sheets: Record<string, { of: string[]; used: ReactElement }> = {
  // On nearly every page.
  common: {
    of: ["Input", "Select", "Segmented", "Checkbox"],
    used: (
      <>
        <antd.Input />
        <antd.Input.TextArea />
        <antd.Input.Password />
        <antd.Select />
        <antd.Segmented options={["one"]} />
        <antd.Checkbox />
        <antd.Empty />
      </>
    ),
  },
  modal: { of: ["Modal"], used: <antd.Modal /> },
  dates: { of: ["DatePicker"], used: <antd.DatePicker /> },
  number: { of: ["InputNumber"], used: <antd.InputNumber /> },
};

/** What the interface takes from the library that has no rules there, or is styled by our own. */
const withoutRules = ["ConfigProvider", "QRCode", "theme"];

/** The rules of what is rendered, in their order: a rule is all up to its own closing brace. */
function rulesOf(theme: ThemeConfig, used: ReactElement): string[] {
  const css = extractStyle({
    antdInstance: antd,
    customTheme: () => <ConfigProvider theme={{ ...theme, zeroRuntime: false }}>{used}</ConfigProvider>,
  } as unknown as Parameters<typeof extractStyle>[0]).replace(/<\/?style[^>]*>/g, "");
  const rules: string[] = [];
  let depth = 0;
  let begun = 0;
  for (let i = 0; i < css.length; i++) {
    if (css[i] === "{") depth++;
    if (css[i] !== "}" || --depth > 0) continue;
    rules.push(css.slice(begun, i + 1));
    begun = i + 1;
  }
  return rules.filter((rule) => !rule.startsWith(".data-ant"));
}

const ofVariables = /^\.brintel(\.[\w-]+)?\{/;

/**
 * The variables of the whole theme are said once, of the page: the library says them of each of its parts, and a page of fifty fields would
 * reckon five hundred of them fifty times over.
 */
const once = (rule: string) => rule.replace(/^\.brintel\{/, ":root{");
const inTheDark = (rule: string) =>
  rule
    .replace(/^\.brintel\{/, ':root[data-theme="dark"]{')
    .replace(/^\.brintel\./, '[data-theme="dark"] .brintel.');

/** The components that the interface takes from the library, each with a file that does. */
function takenFromLibrary(): Map<string, string> {
  const taken = new Map<string, string>();
  for (const name of readdirSync("app", { recursive: true, encoding: "utf8" })) {
    if (!/\.tsx?$/.test(name)) continue;
    for (const [, names = ""] of readFileSync(join("app", name), "utf8").matchAll(
      /import \{([^}]*)\} from "antd"/g,
    ))
      for (const one of names.split(",")) {
        const [component = ""] = one.trim().split(" as ");
        if (component && !component.startsWith("type ")) taken.set(component, name);
      }
  }
  return taken;
}

const known = [...withoutRules, ...Object.values(sheets).flatMap(({ of }) => of)];
for (const [component, file] of takenFromLibrary()) {
  if (!known.includes(component))
    throw new Error(
      `app/${file} takes ${component} from the component library, and no sheet here has its rules.`,
    );
}

mkdirSync(folder, { recursive: true });
const common = new Set<string>();
for (const [name, { used }] of Object.entries(sheets)) {
  const light = rulesOf(lightTheme, used).map(once);
  const dark = rulesOf(darkTheme, used)
    .filter((rule) => ofVariables.test(rule))
    .map(inTheDark);
  const own = [...new Set([...light, ...dark])].filter((rule) => !common.has(rule));
  if (name === "common") for (const rule of own) common.add(rule);
  writeFileSync(join(folder, `antd.${name}.generated.css`), `${own.join("\n")}\n`);
}
