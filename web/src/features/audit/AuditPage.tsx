import type { Shapes } from "../../api/client";
import type { Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import { DeedOf } from "./DeedOf";

const WHERE = { list: "deeds" };
const ORDER: Sort[] = [{ column: "at", down: true }];

/** Everything that was written, by whom, what and when; sign-ins too. For administrators. */
export function AuditPage({ me }: { me: Shapes["Me"] }) {
  const page = useListPage(WHERE, ORDER);
  const [opened, setOpened] = useKept("open");
  return (
    <ListPage
      page={page}
      tabs={
        <div className="tabs">
          <h1 style={{ alignSelf: "center" }}>Audit</h1>
        </div>
      }
      name="Audit"
      noun="deed"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      empty={{
        title: "Nothing like this was written",
        text: "Take a filter off: whatever was written stands here, and nothing is ever taken out.",
      }}
      side={{
        name: "The deed",
        about: opened,
        shown: opened ? (
          <DeedOf key={opened} number={opened} />
        ) : (
          <p className="soft">
            Whatever was written, and by whom; sign-ins too, those that failed among them. Pick one, by a
            click or by Enter, to see field by field what it changed.
          </p>
        ),
      }}
    />
  );
}
