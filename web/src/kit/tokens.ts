/**
 * The look in one place: colours, sizes and type, in light and in dark. CSS reads them as custom properties,
 * Ant Design as its theme.
 */
import { theme as antd, type ThemeConfig } from "antd";

export const light = {
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
  "ochre-wash": "#f8efdc",
  brick: "#a33b2a",
  "brick-wash": "#f8ebe7",
  rail: "#22333a",
  "rail-ink": "#d9e2e0",
  "rail-on": "#37505a",
  "rail-low": "#2c4049",
  hatch: "#d9d1c0",
  "on-ink": "#ffffff",
  "on-verdigris": "#ffffff",
  "on-other": "#1f2a30",
  edge: "#cfc8b8",
  edge2: "#b9b2a2",
  hover: "#f1ede3",
  stone: "#ebe5d6",
  gate: "#d5e6e1",
  "gate-ink": "#14514d",
  glass: "#8d968f",
  lip: "#6d6a5e",
  faint: "#ece6d9",
  rim: "#aeb3a9",
  placeholder: "#6e7573",
};

export const dark: typeof light = {
  paper: "#171d20",
  sheet: "#1f272b",
  line: "#334046",
  ink: "#e6ebe8",
  soft: "#a7b1ae",
  verdigris: "#74c7bd",
  verdigris2: "#3d7a73",
  wash: "#223631",
  ochre: "#e2ad50",
  "ochre-fill": "#c98a1e",
  "ochre-wash": "#37301f",
  brick: "#f09584",
  "brick-wash": "#3a2622",
  rail: "#11171a",
  "rail-ink": "#c9d3d1",
  "rail-on": "#2d4048",
  "rail-low": "#222f35",
  hatch: "#3a464b",
  "on-ink": "#171d20",
  "on-verdigris": "#0f1f1d",
  "on-other": "#f2f6f4",
  edge: "#4a585e",
  edge2: "#5a686e",
  hover: "#263136",
  stone: "#323d42",
  gate: "#24433e",
  "gate-ink": "#a8ddd5",
  glass: "#6f7b78",
  lip: "#a09c8d",
  faint: "#2a3439",
  rim: "#5b6862",
  placeholder: "#98a29f",
};

export type Theme = "light" | "dark";

const font = '"Inter Variable", system-ui, sans-serif';

export function applyTokens(which: Theme): void {
  const root = document.documentElement;
  for (const [name, value] of Object.entries(which === "dark" ? dark : light))
    root.style.setProperty(`--${name}`, value);
  root.style.setProperty("--font", font);
  root.style.colorScheme = which;
}

export function themeOf(which: Theme): ThemeConfig {
  const t = which === "dark" ? dark : light;
  return {
    algorithm: which === "dark" ? antd.darkAlgorithm : antd.defaultAlgorithm,
    token: {
      colorPrimary: t.verdigris,
      colorText: t.ink,
      colorTextSecondary: t.soft,
      colorTextPlaceholder: t.placeholder, // 4.5:1 on a field
      colorBgBase: t.sheet,
      colorBgContainer: t.sheet,
      colorBgElevated: t.sheet,
      colorBgLayout: t.paper,
      colorBorder: t.edge,
      colorBorderSecondary: t.line,
      colorError: t.brick,
      colorWarning: t.ochre,
      colorWarningBg: t["ochre-wash"],
      colorErrorBg: t["brick-wash"],
      colorInfoBg: t.wash,
      colorLink: t.verdigris,
      fontFamily: font,
      fontSize: 13,
      borderRadius: 6,
      controlHeight: 30,
      motionDurationMid: "0.1s",
    },
    components: { Button: { primaryColor: t["on-verdigris"] } },
  };
}
