import { Button } from "antd";

import type { Key, Shapes } from "../../api/client";
import { useCandidates } from "../../api/queries";
import { useShortcuts } from "../../app/keys";
import { hours, when } from "../../kit/words";
import { useWeek } from "../week/context";
import { Change } from "./Change";
import { StartField } from "./StartField";

/** Who can take this seat, best first, with why. */
export function SeatPanel({
  item,
  done,
  letters = true,
}: {
  item: Shapes["SeatItem"];
  done?: () => void;
  /** Whether G gives the seat: where several stand beneath one another it can not mean one of them. */
  letters?: boolean;
}) {
  const { week, now, edit, can, openJob, craftName } = useWeek();
  const key: Key = [item.job, item.task, item.portion];
  const found = useCandidates(week, key, item.seat);
  const people = found.data ?? [];
  const best = people.find((p) => p.fits);
  const give = (person: string) =>
    can("edit") && void edit({ kind: "give", key, seat: item.seat, person }).then((ok) => ok && done?.());
  const exchange = (person: string) =>
    void edit({ kind: "exchange", key, seat: item.seat, person }).then((ok) => ok && done?.());
  useShortcuts(
    best && letters
      ? [{ keys: "g", what: `Give the seat to ${best.name}`, group: "Crew", run: () => give(best.person) }]
      : [],
  );
  return (
    <>
      <section>
        <h1>{item.title}</h1>
        <p className="soft">
          {item.job} task {item.task} {item.task_title}
        </p>
        <p>
          {when(item.day, item.start, item.end, now.timezone)} · {hours(item.hours)}
        </p>
        {item.kit && <p className="small">▣ parts set aside: {item.kit}</p>}
        <p>
          Seat {item.seat + 1} of {item.seats}: {craftName(item.craft)}, level {item.level}
          {item.certificate ? `, ${item.certificate}` : ""}
        </p>
        <div className="row">
          <Button size="small" type="link" style={{ padding: 0 }} onClick={() => openJob(item.job)}>
            Open the job
          </Button>
          <span className="grow" />
          {can("edit") && <StartField item={item} />}
        </div>
      </section>
      <section>
        <h2>Who can take this seat</h2>
        {found.error && <p className="brick">{found.error.message}</p>}
        {people.length === 0 && !found.isPending && !found.error && (
          <p className="brick">▲ Nobody has this craft at this level.</p>
        )}
        {people.map((p) => (
          <div key={p.person} className="row item">
            <div className="grow">
              <div className={p.fits ? "strong" : "soft"}>{p.name}</div>
              <div className="small soft">
                {!p.fits && <span className="brick">✕ </span>}
                {p.why.join(" · ")}
              </div>
              {!p.fits && p.exchange && <Change swap={p.exchange} />}
            </div>
            {can("edit") && !p.fits && p.exchange ? (
              <Button
                size="small"
                title={`${p.name} and who sits there change places`}
                onClick={() => exchange(p.person)}
              >
                Change
              </Button>
            ) : (
              can("edit") && (
                <Button
                  size="small"
                  type={p === best ? "primary" : "default"}
                  disabled={!p.fits}
                  onClick={() => give(p.person)}
                >
                  Give{p === best && letters && <kbd>G</kbd>}
                </Button>
              )
            )}
          </div>
        ))}
      </section>
    </>
  );
}
