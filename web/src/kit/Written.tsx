import { Fragment, type ReactNode } from "react";

import { useFormats } from "./look";

/** Everything is drawn anew when somebody chooses another way of writing figures, days and weeks. */
export function Written({ children }: { children: ReactNode }) {
  return <Fragment key={useFormats()}>{children}</Fragment>;
}
