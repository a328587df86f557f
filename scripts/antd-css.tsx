/** Writes the style sheet of the interface components in use, with our theme in light and dark, at build time. */
import { mkdirSync, writeFileSync } from "node:fs";
import { extractStyle } from "@ant-design/static-style-extract";
import * as antd from "antd";
import { ConfigProvider, type ThemeConfig } from "antd";
import type { ReactElement } from "react";
import { darkTheme, lightTheme } from "../app/theme";

/** Components whose styles the pages need; a new component is added here. */
const includes = [
  "Button",
  "Input",
  "InputNumber",
  "Select",
  "DatePicker",
  "Modal",
  "Tooltip",
  "Segmented",
  "Checkbox",
  "Empty",
  "Spin",
  "Dropdown",
];

const sheetFor = (theme: ThemeConfig) =>
  extractStyle({
    includes,
    antdInstance: antd,
    customTheme: (node: ReactElement) => (
      <ConfigProvider theme={{ ...theme, zeroRuntime: false }}>{node}</ConfigProvider>
    ),
  } as unknown as Parameters<typeof extractStyle>[0]);

const stripTags = (css: string) => css.replace(/<\/?style[^>]*>/g, "");
const light = stripTags(sheetFor(lightTheme));
const variableRules = (css: string) => css.match(/\.brintel\{[^}]*\}|\.brintel\.[\w-]+\{[^}]*\}/g) ?? [];
const dark = variableRules(stripTags(sheetFor(darkTheme))).map((rule) => `[data-theme="dark"] ${rule}`);

mkdirSync("app/styles", { recursive: true });
writeFileSync("app/styles/antd.generated.css", `${light}\n${dark.join("\n")}\n`);
