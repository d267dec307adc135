import type { ReactNode } from "react";

import type { Shapes } from "../../api/client";
import type { Head, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import { useTitle } from "../../app/title";
import { OfWeek } from "../../kit/OfWeek";
import { Side } from "../../kit/Side";
import { ListBar } from "../../kit/table/ListBar";
import { ListOrTrouble } from "../../kit/table/ListOrTrouble";
import { countWords, ListTable } from "../../kit/table/ListTable";
import { useListPage } from "../../kit/table/useListPage";
import { HandOut } from "./HandOut";
import { PartView } from "./PartView";
import { PartsTabs } from "./PartsTabs";
import { useListening } from "../../app/useListening";

const OF = {
  movements: {
    where: { list: "movements" },
    heard: ["movements", "parts"],
    title: "Movements",
    noun: "movement",
    order: [{ column: "at", down: true }] as Sort[],
    empty: "Nothing moved yet that fits.",
  },
  picking: {
    where: { list: "picking" },
    heard: ["picking", "parts"],
    title: "Parts to pick",
    noun: "part",
    order: [{ column: "day", down: false }] as Sort[],
    empty: "No work of this week waits for parts to be handed out.",
  },
  lists: {
    where: { list: "parts lists" },
    heard: ["parts lists", "parts"],
    title: "Parts lists",
    noun: "line",
    order: [{ column: "asset", down: false }] as Sort[],
    empty: "Put parts on assets beside a part, or bring parts lists in under Files.",
  },
};

/** What moved, or the parts lists of assets; the part of a row beside it. */
export function PartsListPage({ me, of }: { me: Shapes["Me"]; of: keyof typeof OF }) {
  const { heard, title, noun, order, empty } = OF[of];
  const [week, setWeek] = useKept("week", me.week);
  const byWeek = of === "picking";
  const where = byWeek ? { ...OF[of].where, week } : OF[of].where;
  const page = useListPage(where, order);
  useTitle(title);
  useListening(heard);
  return (
    <main className="lists">
      <PartsTabs />
      <ListOrTrouble head={page.head} what={title}>
        {(head) => (
          <Rows
            me={me}
            head={head}
            page={page}
            label={title}
            noun={noun}
            where={where}
            empty={empty}
            week={byWeek ? <OfWeek week={week} go={setWeek} /> : undefined}
          />
        )}
      </ListOrTrouble>
    </main>
  );
}

function Rows({
  me,
  head,
  page,
  label,
  noun,
  where,
  empty,
  week,
}: {
  me: Shapes["Me"];
  head: Head;
  page: ReturnType<typeof useListPage>;
  label: string;
  noun: string;
  where: { list: string; week?: string };
  empty: string;
  /** The week that the list is of, to choose another. */
  week?: ReactNode;
}) {
  const { state, chosen, told, tell } = page;
  const [part, setPart] = useKept("part");
  const [opened, setOpened] = useKept("open");
  return (
    <div className="split">
      <div className="main listing">
        <ListBar
          where={where}
          head={head}
          state={state}
          chosen={chosen}
          label={label.toLowerCase()}
          summary={told ? countWords(told.total, told.sums, head, noun) : ""}
          actions={
            week && me.rights.includes("stock") ? (
              <HandOut keys={[...chosen.keys]} done={chosen.clear} />
            ) : undefined
          }
        >
          {week}
        </ListBar>
        <ListTable
          where={where}
          head={head}
          state={state}
          label={label}
          noun={noun}
          zone={me.timezone}
          chosen={chosen}
          opened={opened || null}
          open={setOpened}
          stand={(row) => row && setPart(String(row.cells.part))}
          told={tell}
          empty={
            <div className="empty">
              <h2>Nothing here</h2>
              <p>{empty}</p>
            </div>
          }
        />
      </div>
      <Side about={part || null} name="The part">
        {part && <PartView key={part} part={part} week={me.week} zone={me.timezone} go={setPart} />}
      </Side>
    </div>
  );
}
