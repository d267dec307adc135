import { App, Button, Spin } from "antd";
import type { ReactNode } from "react";
import { Link } from "react-router";

import { http, need, type Shapes } from "../../api/client";
import { useTitle } from "../../app/title";
import { useListening } from "../../app/useListening";
import { useRefusal } from "../../kit/useRefusal";
import { count, dayName, figure, weekName } from "../../kit/words";
import { PartsTabs } from "../parts/PartsTabs";
import { HEARD, useStorekeeperDay } from "./useBuying";

type Day = Shapes["StorekeeperDay"];

/** The storekeeper's day: what to pick, what came in, what is short and who should know. */
export function StorekeeperPage({ me }: { me: Shapes["Me"] }) {
  const found = useStorekeeperDay();
  useTitle("Storekeeper’s day");
  useListening(HEARD);
  const day = found.data;
  return (
    <main className="lists">
      <PartsTabs />
      <div className="main storeday">
        {found.error && <p className="brick">{found.error.message}</p>}
        {found.isPending && <Spin />}
        {day && (
          <>
            <ToPick day={day} week={me.week} />
            <ToPutBack day={day} />
            <ComingIn day={day} week={me.week} />
            <Short day={day} says={me.rights.some((r) => ["plan", "report", "edit"].includes(r))} />
          </>
        )}
      </div>
    </main>
  );
}

function Part({ name, empty, children }: { name: string; empty: string | null; children: ReactNode }) {
  return (
    <section aria-label={name}>
      <h2>{name}</h2>
      {empty ? <p className="soft">{empty}</p> : children}
    </section>
  );
}

function Table({ label, heads, children }: { label: string; heads: string[]; children: ReactNode }) {
  return (
    <table className="desktable" aria-label={label}>
      <thead>
        <tr>
          {heads.map((h) => (
            <th key={h} scope="col">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  );
}

const job = (order: string, week: string) => `/week/${week}/gather?job=${encodeURIComponent(order)}`;

function ToPick({ day, week }: { day: Day; week: string }) {
  const name = day.picking_for ? `To pick for ${dayName(day.picking_for)}` : "To pick";
  return (
    <Part name={name} empty={day.to_pick.length ? null : "No work that stands in a week waits for parts."}>
      <Table label={name} heads={["WO", "Work", "Asset", "Parts", "", "Set aside in"]}>
        {day.to_pick.map((p) => (
          <tr key={p.order}>
            <td>
              <Link to={job(p.order, week)}>{p.order}</Link>
            </td>
            <td dir="auto">{p.title}</td>
            <td dir="auto">{p.asset}</td>
            <td className="figure">{p.parts}</td>
            <td>
              {p.short > 0 ? (
                <span className="brick">▲ {p.short} not there</span>
              ) : (
                <span className="verdigris">✓ all there</span>
              )}
            </td>
            <td dir="auto">{p.kit}</td>
          </tr>
        ))}
      </Table>
      <p>
        <Link to="/parts/picking">To the list to pick from</Link>
      </p>
    </Part>
  );
}

function ToPutBack({ day }: { day: Day }) {
  if (!day.to_put_back.length) return null;
  return (
    <Part name="Kits to put back" empty={null}>
      <Table label="Kits to put back" heads={["WO", "Work", "Parts", "Lies in"]}>
        {day.to_put_back.map((k) => (
          <tr key={k.order}>
            <td>
              <Link to={`/parts/kits?open=${encodeURIComponent(k.order)}`}>{k.order}</Link>
            </td>
            <td dir="auto">{k.title}</td>
            <td className="figure">{k.parts}</td>
            <td dir="auto">{k.kit}</td>
          </tr>
        ))}
      </Table>
    </Part>
  );
}

function ComingIn({ day, week }: { day: Day; week: string }) {
  const brought = day.coming_in.filter((c) => c.brought > 0).length;
  return (
    <Part
      name={brought ? `Came in: ${count(brought, "line")} to take in` : "Comes in today, or should have"}
      empty={day.coming_in.length ? null : "Nothing was brought, and nothing is due."}
    >
      <Table label="Comes in" heads={["Order", "What", "Goes to", "Awaited", "By note", "Due"]}>
        {day.coming_in.map((c) => (
          <tr key={c.purchase + c.line}>
            <td>
              <Link to={`/parts/orders?open=${encodeURIComponent(`${c.purchase} / ${c.line}`)}`}>
                {c.purchase}
              </Link>{" "}
              <span className="soft">{c.supplier}</span>
            </td>
            <td dir="auto">{c.what}</td>
            <td>{c.order ? <Link to={job(c.order, week)}>{c.order}</Link> : c.storeroom}</td>
            <td className="figure">
              {figure(c.to_come)} {c.unit}
            </td>
            <td className="figure">
              {c.brought > 0 && <span className="ochre">◆ {figure(c.brought)}</span>}
            </td>
            <td>
              {c.day && c.day < day.today ? (
                <span className="brick">▲ {dayName(c.day)}</span>
              ) : (
                c.day && dayName(c.day)
              )}
            </td>
          </tr>
        ))}
      </Table>
    </Part>
  );
}

function Short({ day, says }: { day: Day; says: boolean }) {
  const { message } = App.useApp();
  const refuse = useRefusal();
  const tell = async (s: Day["short"][number]) => {
    const comes = s.comes ? `it comes ${dayName(s.comes)}` : "nobody knows when it comes";
    const lacks = `${figure(s.lacks)} short for ${dayName(s.day)}`;
    const text = `${s.part} ${s.name}: ${lacks}, ${comes}. ${s.tell.join(", ")}`;
    try {
      await need(
        http.POST("/api/orders/{number}/notes", { params: { path: { number: s.order } }, body: { text } }),
      );
      void message.success(`It stands beside ${s.order} now`);
    } catch (bad) {
      refuse("Nothing was said", bad);
    }
  };
  return (
    <Part
      name="Short for published work"
      empty={day.short.length ? null : "All that agreed and published weeks need is there on its day."}
    >
      <Table label="Short" heads={["For", "WO", "Work", "Part", "Short", "Comes", "Should know", ""]}>
        {day.short.map((s) => (
          <tr key={s.order + s.part}>
            <td>
              {dayName(s.day)} <span className="soft">{weekName(s.week)}</span>
            </td>
            <td>
              <Link to={job(s.order, s.week)}>{s.order}</Link>
            </td>
            <td dir="auto">{s.title}</td>
            <td dir="auto">
              <Link to={`/parts/stock?open=${encodeURIComponent(s.part)}`}>{s.part}</Link> {s.name}
            </td>
            <td className="figure">{figure(s.lacks)}</td>
            <td>{s.comes ? dayName(s.comes) : <span className="brick">▲ nobody knows</span>}</td>
            <td dir="auto">{s.tell.join(", ") || "nobody yet"}</td>
            <td>
              {says && (
                <Button size="small" aria-label={`Note it on ${s.order}`} onClick={() => void tell(s)}>
                  Note it
                </Button>
              )}
            </td>
          </tr>
        ))}
      </Table>
    </Part>
  );
}
