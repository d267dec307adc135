import { ConfigProvider } from "antd";
import { useMemo, type ReactNode } from "react";

import { useStill, useTheme } from "./look";
import { themeOf } from "./tokens";

/** Ant Design in the theme that is worn; nothing slides or fades for who asked the system for that. */
export function Themed({ children }: { children: ReactNode }) {
  const which = useTheme();
  const still = useStill();
  const theme = useMemo(() => themeOf(which, still), [which, still]);
  return <ConfigProvider theme={theme}>{children}</ConfigProvider>;
}
