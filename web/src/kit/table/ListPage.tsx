import type { ReactNode } from "react";

import { useTitle } from "../../app/title";
import { useListening } from "../../app/useListening";
import { ListRoom, type ListRoomProps } from "./ListRoom";

const NOTHING: readonly string[] = [];

/** A page that is one list, under its tabs. */
export function ListPage({
  tabs,
  heard = NOTHING,
  children,
  ...room
}: ListRoomProps & {
  tabs: ReactNode;
  /** Words of what it asks for anew when others change a record; a constant list. */
  heard?: readonly string[];
  /** Panels that stand over the page. */
  children?: ReactNode;
}) {
  useTitle(room.name);
  useListening(heard);
  return (
    <main className="lists">
      {tabs}
      <ListRoom {...room} />
      {children}
    </main>
  );
}
