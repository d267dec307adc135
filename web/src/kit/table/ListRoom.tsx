import type { ReactNode } from "react";

import type { Column, Head, ListRow } from "../../api/lists";
import type { Shortcut } from "../../app/keys";
import { Side } from "../Side";
import { ListBar } from "./ListBar";
import { ListOrTrouble } from "./ListOrTrouble";
import { countWords, ListTable } from "./ListTable";
import type { useListPage } from "./useListPage";

export interface ListRoomProps {
  page: ReturnType<typeof useListPage>;
  /** The list as those who listen hear it: `Job plans`. */
  name: string;
  /** What a row is: `plan`. */
  noun: string;
  zone: string;
  opened: string;
  open: (key: string) => void;
  stand?: (row: ListRow | undefined) => void;
  cell?: (column: Column, row: ListRow) => ReactNode | undefined;
  /** What stands above the list, beside its search and views. */
  bar?: ReactNode;
  /** What can be done with the rows that are chosen. */
  actions?: ReactNode;
  shortcuts?: Shortcut[];
  /** What is said where no row passes. */
  empty: { title: string; text: string };
  /** The room beside the list: what it is called, what it is about, what stands there. */
  side: { name: string; about: string; shown: ReactNode };
}

/** A list that fills its room: what is asked of it above, its rows, the record of one beside them. */
export function ListRoom(props: ListRoomProps) {
  return (
    <ListOrTrouble head={props.page.head} what={props.name}>
      {(head) => <Room {...props} head={head} />}
    </ListOrTrouble>
  );
}

function Room({ head, ...props }: ListRoomProps & { head: Head }) {
  const { page, name, noun, side, empty } = props;
  const { where, state, chosen, told, tell } = page;
  return (
    <div className="split">
      <div className="main listing">
        <ListBar
          where={where}
          head={head}
          state={state}
          chosen={chosen}
          label={name.toLowerCase()}
          summary={told ? countWords(told.total, told.sums, head, noun) : ""}
          actions={props.actions}
        >
          {props.bar}
        </ListBar>
        <ListTable
          where={where}
          head={head}
          state={state}
          label={name}
          noun={noun}
          zone={props.zone}
          chosen={chosen}
          opened={props.opened || null}
          open={props.open}
          stand={props.stand}
          told={tell}
          cell={props.cell}
          empty={
            <div className="empty">
              <h2>{empty.title}</h2>
              <p>{empty.text}</p>
            </div>
          }
          shortcuts={props.shortcuts}
        />
      </div>
      <Side about={side.about || null} name={side.name}>
        {side.shown}
      </Side>
    </div>
  );
}
