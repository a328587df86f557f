/** Writes the style sheets of the interface components in use, with our theme in light and dark, and what their theme is reckoned to, at build time. */
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { extractStyle } from "@ant-design/static-style-extract";
import * as antd from "antd";
import { ConfigProvider, type ThemeConfig } from "antd";
import type { ReactElement } from "react";
import { renderToStaticMarkup } from "react-dom/server";
import { darkTheme, lightTheme } from "../app/theme";

/** The components whose rules are in a sheet, as they are used. */
interface Sheet {
  of: string[];
  used: ReactElement;
}

/** On nearly every page. */
const common: Sheet = {
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
};

/** Each comes with the modules that import it; what stands in the common one is in none of them. */
const others: Record<string, Sheet> = {
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

/** What a sheet says: its rules in the light, and its variables once more for the dark. */
const sheetOf = ({ used }: Sheet): string[] => [
  ...new Set([
    ...rulesOf(lightTheme, used).map(once),
    ...rulesOf(darkTheme, used)
      .filter((rule) => ofVariables.test(rule))
      .map(inTheDark),
  ]),
];

/** The components that a file takes from the library. */
const takenBy = (file: string): string[] =>
  [...readFileSync(file, "utf8").matchAll(/import \{([^}]*)\} from "antd"/g)]
    .flatMap(([, names = ""]) => names.split(",").map((name) => name.trim()))
    .filter((name) => name && !name.startsWith("type "))
    .map((name) => name.replace(/ as .*/, ""));

const known = [...withoutRules, ...[common, ...Object.values(others)].flatMap((sheet) => sheet.of)];
for (const name of readdirSync("app", { recursive: true, encoding: "utf8" })) {
  if (!/\.tsx?$/.test(name)) continue;
  const unknown = takenBy(join("app", name)).find((component) => !known.includes(component));
  if (unknown)
    throw new Error(
      `app/${name} takes ${unknown} from the component library, and no sheet here has its rules.`,
    );
}

const onEveryPage = sheetOf(common);
const sheets = Object.entries(others).map(
  ([name, sheet]) => [name, sheetOf(sheet).filter((rule) => !onEveryPage.includes(rule))] as const,
);
const written = new Map<string, readonly string[]>([["common", onEveryPage], ...sheets]);

/** The variables that some rule asks for; all elements of a page inherit whatever is said, asked for or not. */
const askedFor = new Set(
  [...written.values()]
    .flat()
    .flatMap((rule) => [...rule.matchAll(/var\((--[\w-]+)/g)].map(([, name]) => name)),
);
const withoutUnasked = (rule: string) =>
  rule.replace(/(--[\w-]+):[^;}]*;?/g, (said, name: string) => (askedFor.has(name) ? said : ""));

mkdirSync("app/styles", { recursive: true });
for (const [name, rules] of written)
  writeFileSync(
    `app/styles/antd.${name}.generated.css`,
    `${rules
      .map(withoutUnasked)
      .filter((rule) => !rule.endsWith("{}"))
      .join("\n")}\n`,
  );

let asked: Record<string, unknown> = {};

/** Asks the library for our theme as its components do. */
function Asking() {
  asked = { ...antd.theme.useToken().token };
  return null;
}

/** What the library reckons of our theme. Its palettes are left out: we wear none of them. */
function reckonedTheme(): Record<string, unknown> {
  renderToStaticMarkup(
    <ConfigProvider theme={lightTheme}>
      <Asking />
    </ConfigProvider>,
  );
  const palettes = Object.keys(asked).filter((name) => `${name}-10` in asked);
  const ofPalette = new RegExp(`^(${palettes.join("|")})(-?\\d+|Hover|Active)?$`);
  return Object.fromEntries(Object.entries(asked).filter(([name]) => !ofPalette.test(name)));
}

writeFileSync(
  "app/styles/antd.theme.generated.json",
  JSON.stringify({ token: reckonedTheme(), cssVar: { prefix: "ant", ...lightTheme.cssVar } }),
);
