/** The look in one place: colours, sizes and type. CSS reads them as custom properties, Ant Design as its theme. */
import type { ThemeConfig } from "antd";

export const tokens = {
  paper: "#f7f4ee",
  sheet: "#fffdf9",
  line: "#e3ddd0",
  ink: "#1f2a30",
  soft: "#5f6664",
  verdigris: "#1d6f6a",
  verdigris2: "#7fb0a8",
  wash: "#eaf2ef",
  ochre: "#8a5a0a",
  "ochre-fill": "#b9770e",
  brick: "#a33b2a",
  "brick-wash": "#f8ebe7",
  rail: "#22333a",
  hatch: "#d9d1c0",
} as const;

const font = '"Inter Variable", system-ui, sans-serif';

export function applyTokens(): void {
  const root = document.documentElement.style;
  for (const [name, value] of Object.entries(tokens)) root.setProperty(`--${name}`, value);
  root.setProperty("--font", font);
}

export const theme: ThemeConfig = {
  token: {
    colorPrimary: tokens.verdigris,
    colorText: tokens.ink,
    colorTextSecondary: tokens.soft,
    colorTextPlaceholder: "#6e7573", // 4.5:1 on a field
    colorBgBase: tokens.sheet,
    colorBgLayout: tokens.paper,
    colorBorder: "#cfc8b8",
    colorBorderSecondary: tokens.line,
    colorError: tokens.brick,
    colorWarning: tokens.ochre,
    colorLink: tokens.verdigris,
    fontFamily: font,
    fontSize: 13,
    borderRadius: 6,
    controlHeight: 30,
    motionDurationMid: "0.1s",
  },
};
