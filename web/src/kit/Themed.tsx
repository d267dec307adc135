import { ConfigProvider } from "antd";
import { useMemo, type ReactNode } from "react";

import { useTheme } from "./look";
import { themeOf } from "./tokens";

/** Ant Design in the theme that is worn. */
export function Themed({ children }: { children: ReactNode }) {
  const which = useTheme();
  const theme = useMemo(() => themeOf(which), [which]);
  return <ConfigProvider theme={theme}>{children}</ConfigProvider>;
}
