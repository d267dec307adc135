import type { Shapes } from "../../api/client";
import type { Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import { OfWeek } from "../../kit/OfWeek";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import { HandOut } from "./HandOut";
import { KitDeeds, KitOf, ordersOf, SetAside } from "./Kits";
import { PartView } from "./PartView";
import { PartsTabs } from "./PartsTabs";

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
  kits: {
    where: { list: "kits" },
    heard: ["kits", "parts"],
    title: "Kits",
    noun: "kit",
    order: [{ column: "day", down: false }] as Sort[],
    empty: "Choose parts under To pick and set them aside; they stand here until they are handed out.",
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
  const page = useListPage(byWeek ? { ...OF[of].where, week } : OF[of].where, order);
  const { chosen } = page;
  const [part, setPart] = useKept("part");
  const [opened, setOpened] = useKept("open");
  return (
    <ListPage
      page={page}
      tabs={<PartsTabs />}
      heard={heard}
      name={title}
      noun={noun}
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      stand={(row) => {
        if (row && of !== "kits") setPart(String(row.cells.part));
      }}
      bar={byWeek && <OfWeek week={week} go={setWeek} />}
      actions={
        me.rights.includes("stock") ? (
          of === "picking" ? (
            <>
              <HandOut keys={[...chosen.keys]} done={chosen.clear} />
              <SetAside orders={ordersOf([...chosen.keys])} done={chosen.clear} />
            </>
          ) : of === "kits" ? (
            <KitDeeds orders={[...chosen.keys]} done={chosen.clear} />
          ) : undefined
        ) : undefined
      }
      empty={{ title: "Nothing here", text: empty }}
      side={
        of === "kits"
          ? {
              name: "The kit",
              about: opened,
              shown: opened ? (
                <KitOf key={opened} number={opened} week={me.week} />
              ) : (
                <p className="soft">Pick a kit, by a click or by Enter, to see what belongs to it.</p>
              ),
            }
          : {
              name: "The part",
              about: part,
              shown: part && (
                <PartView key={part} part={part} week={me.week} zone={me.timezone} go={setPart} />
              ),
            }
      }
    />
  );
}
