import { theme as antdTheme, type ThemeConfig } from "antd";

/** The palette of the interface; app/styles/tokens.css holds the same colours for our own rules. */
const light = {
  paper: "#f4f1e8",
  sheet: "#fffdf7",
  ink: "#10262b",
  ink2: "#47595c",
  line: "#d8d2c3",
  brine: "#15606a",
  copper: "#b04a16",
  sound: "#256b43",
  qualified: "#8a6500",
};
const dark: typeof light = {
  paper: "#0e1b1e",
  sheet: "#15272b",
  ink: "#eef3ee",
  ink2: "#b3c2c0",
  line: "#2f464a",
  brine: "#7cc4cb",
  copper: "#f0a878",
  sound: "#7fcf9d",
  qualified: "#e5c05a",
};

const fontText = "'Atkinson Hyperlegible Next Variable', 'Brintel Signs', system-ui, sans-serif";
const fontMono = "'Atkinson Hyperlegible Mono Variable', 'Brintel Signs', ui-monospace, monospace";

function themeOf(colours: typeof light, algorithm?: typeof antdTheme.darkAlgorithm): ThemeConfig {
  return {
    zeroRuntime: true,
    hashed: false,
    cssVar: { key: "brintel" },
    ...(algorithm ? { algorithm } : {}),
    token: {
      colorPrimary: colours.brine,
      colorInfo: colours.brine,
      colorLink: colours.brine,
      colorSuccess: colours.sound,
      colorWarning: colours.qualified,
      colorError: colours.copper,
      colorTextBase: colours.ink,
      colorBgBase: colours.sheet,
      colorBgContainer: colours.sheet,
      colorBgElevated: colours.sheet,
      colorBgLayout: colours.paper,
      colorBorder: colours.line,
      colorBorderSecondary: colours.line,
      colorTextSecondary: colours.ink2,
      colorTextTertiary: colours.ink2,
      colorTextDescription: colours.ink2,
      colorTextPlaceholder: colours.ink2,
      borderRadius: 8,
      fontFamily: fontText,
      fontFamilyCode: fontMono,
      fontSize: 15,
      controlHeight: 44,
      controlHeightLG: 56,
      controlHeightSM: 34,
      // What is asked for is there at once: nobody waits for a picture to move, or misses what still moves.
      motion: false,
      lineWidth: 1,
    },
    components: {
      Table: {
        headerBg: colours.paper,
        headerColor: colours.ink2,
        rowHoverBg: colours.paper,
        cellPaddingBlock: 11,
      },
      Modal: { titleFontSize: 19 },
      // A week is no wider than a phone.
      DatePicker: { cellWidth: 44 },
    },
  };
}

/** The theme the running interface uses; styles come from the sheet generated at build, in light and dark. */
export const lightTheme = themeOf(light);
export const darkTheme = themeOf(dark, antdTheme.darkAlgorithm);
