import { Spin } from "antd";
import type { ReactNode } from "react";

import type { Head } from "../../api/lists";

/** A list once its columns are known; until then, or where it can not be shown, that. */
export function ListOrTrouble({
  head,
  what,
  children,
}: {
  head: { data?: Head; error: Error | null };
  /** How the list is called in a sentence, with a capital. */
  what: string;
  children: (head: Head) => ReactNode;
}) {
  if (head.error)
    return (
      <div className="empty">
        <h2>{what} can not be shown</h2>
        <p>{head.error.message}</p>
      </div>
    );
  if (!head.data)
    return (
      <div className="empty">
        <Spin />
      </div>
    );
  return children(head.data);
}
