import type { Shapes } from "../../api/client";
import type { Head, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import { useTitle } from "../../app/title";
import { Side } from "../../kit/Side";
import { ListBar } from "../../kit/table/ListBar";
import { ListOrTrouble } from "../../kit/table/ListOrTrouble";
import { countWords, ListTable } from "../../kit/table/ListTable";
import { useListPage } from "../../kit/table/useListPage";
import { PartView } from "./PartView";
import { PartsTabs } from "./PartsTabs";
import { useListening } from "./useListening";

const OF = {
  movements: {
    where: { list: "movements" },
    heard: ["movements"],
    title: "Movements",
    noun: "movement",
    order: [{ column: "at", down: true }] as Sort[],
    empty: "Nothing moved yet that fits.",
  },
  lists: {
    where: { list: "parts lists" },
    heard: ["parts lists"],
    title: "Parts lists",
    noun: "line",
    order: [{ column: "asset", down: false }] as Sort[],
    empty: "Put parts on assets beside a part, or bring parts lists in under Files.",
  },
};

/** What moved, or the parts lists of assets; the part of a row beside it. */
export function PartsListPage({ me, of }: { me: Shapes["Me"]; of: keyof typeof OF }) {
  const { where, heard, title, noun, order, empty } = OF[of];
  const page = useListPage(where, order);
  useTitle(title);
  useListening(heard);
  return (
    <main className="lists">
      <PartsTabs />
      <ListOrTrouble head={page.head} what={title}>
        {(head) => (
          <Rows me={me} head={head} page={page} label={title} noun={noun} where={where} empty={empty} />
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
}: {
  me: Shapes["Me"];
  head: Head;
  page: ReturnType<typeof useListPage>;
  label: string;
  noun: string;
  where: { list: string };
  empty: string;
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
        />
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
