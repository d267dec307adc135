import { Button, Input, Pagination, Select } from "antd";
import { useEffect, useRef, useState } from "react";

import { useBacklog, useSummary, type BacklogAsked } from "../../api/queries";
import { useKept } from "../../app/address";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Side } from "../../kit/Side";
import { dayName, figure, hours, localDay, WORK_KINDS } from "../../kit/words";
import { useWeek } from "../week/context";
import { JobPanel } from "./JobPanel";
import { Gates, Priority } from "./Marks";

const COLUMNS = [
  ["priority", "Pri", 46],
  ["number", "WO", 84],
  ["title", "Work", undefined],
  ["asset", "Asset", 150],
  ["gates", "Gates", 100],
  ["hours", "Hours", 98],
  ["due", "Due", 96],
  ["raised", "Age", 46],
  ["placed", "In", 64],
] as const;
const SORTABLE = new Set(["priority", "number", "title", "asset", "kind", "hours", "due", "raised"]);
const SIZE = 50;

/** What could be done: the backlog as a fast table. */
export function Gather() {
  const { week, now, job, openJob, openOrder, edit, can, areas } = useWeek();
  const [searched, setSearched] = useKept("find");
  const [gates, setGates] = useKept("gates", "all");
  const [inWeek, setInWeek] = useKept("in", "all");
  const [craft, setCraft] = useKept("craft");
  const [kind, setKind] = useKept("kind");
  const [must, setMust] = useKept("must");
  const [late, setLate] = useKept("late");
  const [order, setOrder] = useKept("sort", "-priority");
  const [pageShown, setPage] = useKept("page", "1");
  const asked: BacklogAsked = {
    page: Number(pageShown) || 1,
    size: SIZE,
    sort: order.replace(/^-/, ""),
    down: order.startsWith("-"),
    search: searched || undefined,
    craft: craft ? [craft] : [],
    kind: kind || undefined,
    ready: gates === "all" ? undefined : gates === "ready",
    placed: inWeek === "all" ? undefined : inWeek === "in",
    must: must ? true : undefined,
    late: late ? true : undefined,
  };
  const [text, setText] = useState(searched);
  const [at, setAt] = useState(0);
  const search = useRef<HTMLInputElement>(null);
  const page = useBacklog(week, { ...asked, area: areas });
  const summary = useSummary(week, areas).data;
  const rows = page.data?.rows ?? [];
  const set = (change: () => void) => {
    change();
    setPage("1");
    setAt(0);
  };
  useEffect(() => {
    if (text === searched) return;
    const timer = setTimeout(() => {
      setSearched(text);
      setPage("1");
    }, 150);
    return () => clearTimeout(timer);
  }, [text, searched, setSearched, setPage]);
  const follow = useFollow(`[data-row="${at}"]`);
  const turned = useRef(false);
  useEffect(() => {
    if (!turned.current || page.isPlaceholderData) return;
    turned.current = false; // the page that was turned to is there
    follow();
  }, [page.isPlaceholderData, page.data, follow]);
  const row = rows[at];
  const step = (by: number) => {
    const to = Math.min(Math.max(at + by, 0), rows.length - 1);
    setAt(to);
    follow();
    if (job && rows[to]) openJob(rows[to].number);
  };
  const toggle = () =>
    row &&
    can("edit") &&
    void edit(
      row.placed ? { kind: "take out", jobs: [row.number] } : { kind: "put", jobs: [row.number], day: null },
    );
  useShortcuts([
    { keys: "ArrowDown", what: "Next job", group: "Gather", run: () => step(1) },
    { keys: "ArrowUp", what: "Job before", group: "Gather", run: () => step(-1) },
    { keys: "Enter", what: "Open the job", group: "Gather", run: () => row && openJob(row.number) },
    { keys: "/", what: "Search the backlog", group: "Gather", run: () => search.current?.focus() },
    { keys: "i", what: "Put the job in, or take it out", group: "Gather", run: toggle },
  ]);
  return (
    <div className="split">
      <div className="main">
        <div className="bar">
          <Input
            ref={(r) => {
              search.current = r?.input ?? null;
            }}
            allowClear
            aria-label="Search the backlog"
            placeholder="Search  /"
            value={text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Escape" || e.key === "Enter") e.currentTarget.blur();
            }}
            style={{ width: 130 }}
          />
          <Select
            aria-label="Gates"
            value={gates}
            onChange={(v) => set(() => setGates(v))}
            options={[
              { value: "all", label: "Gates" },
              { value: "ready", label: "Ready" },
              { value: "waiting", label: "Waiting" },
            ]}
            style={{ width: 84 }}
          />
          <Select
            aria-label="In the week"
            value={inWeek}
            onChange={(v) => set(() => setInWeek(v))}
            options={[
              { value: "all", label: "In or out" },
              { value: "in", label: "In the week" },
              { value: "out", label: "Not in" },
            ]}
            style={{ width: 108 }}
          />
          <Select
            aria-label="Craft"
            allowClear
            placeholder="Craft"
            value={craft || undefined}
            onChange={(v) => set(() => setCraft(v ?? ""))}
            options={now.crafts.map((c) => ({ value: c.key, label: c.name }))}
            style={{ width: 120 }}
          />
          <Select
            aria-label="Kind"
            allowClear
            placeholder="Kind"
            value={kind || undefined}
            onChange={(v) => set(() => setKind(v ?? ""))}
            options={WORK_KINDS.map((k) => ({ value: k, label: k }))}
            style={{ width: 82 }}
          />
          <Button
            type={asked.must ? "primary" : "default"}
            onClick={() => set(() => setMust(must ? "" : "yes"))}
            aria-pressed={!!asked.must}
          >
            Must
          </Button>
          <Button
            type={asked.late ? "primary" : "default"}
            onClick={() => set(() => setLate(late ? "" : "yes"))}
            aria-pressed={!!asked.late}
          >
            Overdue
          </Button>
          {can("plan") && (
            <Button onClick={() => openOrder("new")}>
              New <kbd>W</kbd>
            </Button>
          )}
        </div>
        {page.error ? (
          <div className="empty">
            <h2>The backlog can not be shown</h2>
            <p>{page.error.message}</p>
          </div>
        ) : rows.length === 0 && !page.isPending ? (
          <div className="empty">
            <h2>{summary?.total ? "No job fits these filters" : "The backlog is empty"}</h2>
            <p>
              {summary?.total
                ? "Take a filter off, or search for something else."
                : "Bring work orders in under Files, from CSV or XLSX."}
            </p>
          </div>
        ) : (
          <table className="list under" aria-label="Backlog">
            <colgroup>
              {COLUMNS.map(([name, , width]) => (
                <col key={name} style={{ width }} />
              ))}
            </colgroup>
            <thead>
              <tr>
                {COLUMNS.map(([name, label]) => (
                  <th
                    key={name}
                    aria-sort={asked.sort === name ? (asked.down ? "descending" : "ascending") : undefined}
                  >
                    {SORTABLE.has(name) ? (
                      <button
                        onClick={() =>
                          set(() =>
                            setOrder(
                              `${(asked.sort === name ? !asked.down : name === "priority" || name === "hours") ? "-" : ""}${name}`,
                            ),
                          )
                        }
                      >
                        {label}
                        {asked.sort === name && (asked.down ? " ↓" : " ↑")}
                      </button>
                    ) : (
                      label
                    )}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((r, n) => (
                <tr
                  key={r.number}
                  data-row={n}
                  tabIndex={-1}
                  className={n === at || r.number === job ? "chosen" : ""}
                  aria-selected={r.number === job}
                  onClick={() => {
                    setAt(n);
                    openJob(r.number);
                  }}
                >
                  <td>
                    <Priority value={r.priority} must={r.must} />
                  </td>
                  <td>{r.number}</td>
                  <td title={`${r.title} (${r.kind})`}>{r.title}</td>
                  <td className="soft" title={r.asset}>
                    {r.asset}
                  </td>
                  <td>
                    <Gates gates={r.gates} />
                  </td>
                  <td>
                    <span className="strong">{figure(r.hours)}</span>{" "}
                    <span className="soft small">
                      {Object.entries(r.hours_by_craft)
                        .map(([c, h]) => `${c} ${figure(h)}`)
                        .join(", ")}
                    </span>
                  </td>
                  <td>
                    {r.due ? (
                      <span className={r.due < now.start ? "brick" : ""}>
                        {r.due < now.start && "▲ "}
                        {dayName(localDay(r.due, now.timezone))}
                      </span>
                    ) : (
                      <span className="soft">–</span>
                    )}
                  </td>
                  <td className="soft" title={`raised ${dayName(r.raised)}`}>
                    {Math.max(0, Math.floor((Date.parse(now.start) - Date.parse(r.raised)) / 6048e5))} w
                  </td>
                  <td>
                    {r.placed ? (
                      <span className="verdigris strong">{dayName(r.placed, false)}</span>
                    ) : r.elsewhere ? (
                      <span className="soft" title={`stands in ${r.elsewhere}`}>
                        {r.elsewhere.slice(5)}
                      </span>
                    ) : (
                      <span className="soft">–</span>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {(page.data?.total ?? 0) > SIZE && (
          <div style={{ padding: "12px 0" }}>
            <Pagination
              size="small"
              current={asked.page}
              pageSize={SIZE}
              total={page.data!.total}
              showSizeChanger={false}
              onChange={(p) => {
                setPage(String(p));
                setAt(0);
                turned.current = true;
              }}
              showTotal={(total, [a, b]) => `${a}–${b} of ${total}`}
            />
          </div>
        )}
      </div>
      <Side about={job} name={job ? "The job" : "The backlog by craft"}>
        {job ? (
          <JobPanel number={job} />
        ) : (
          <section>
            <h1>Weeks of ready backlog</h1>
            <p className="soft small" style={{ marginBottom: 10 }}>
              ready work hours by craft, against the hours that its people have this week
            </p>
            {summary?.crafts.map((c) => (
              <div key={c.craft} className="item">
                <div className="row">
                  <span className="grow">{c.name}</span>
                  <span className="strong">{c.weeks == null ? "no shift" : `${c.weeks} weeks`}</span>
                </div>
                <div className="meter" style={{ margin: "3px 0" }}>
                  <i style={{ width: `${Math.min(100, ((c.weeks ?? 0) / 6) * 100)}%` }} />
                </div>
                <p className="soft small">
                  {hours(c.ready_hours)} ready · {hours(c.hours_a_week)} a week
                </p>
              </div>
            ))}
            <p className="soft small" style={{ marginTop: 12 }}>
              Gates: P plan, M parts, C people, W window, L permit. Struck out = still shut.
            </p>
          </section>
        )}
      </Side>
    </div>
  );
}
