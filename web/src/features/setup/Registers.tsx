import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";

import { http, need, Problem, type Shapes } from "../../api/client";

type Register = Shapes["Register"];
type Column = Shapes["RegisterColumn"];
type Cells = Record<string, string>;

/** Small lists that a site keeps by hand, each edited row by row: areas, crafts, tools, permits. */
export function Registers() {
  const names = useQuery({
    queryKey: ["registers"],
    queryFn: () => need(http.GET("/api/setup/registers")),
    staleTime: Infinity,
  });
  const [shown, setShown] = useState("areas");
  if (names.error) return <p className="brick">{names.error.message}</p>;
  if (!names.data) return null;
  return (
    <section aria-label="Lists of the site" className="registers">
      <h2 id="registers">Lists of the site</h2>
      <div className="row wrap" role="group" aria-label="Which list">
        {Object.entries(names.data).map(([name, label]) => (
          <Button
            key={name}
            size="small"
            type={name === shown ? "primary" : "default"}
            aria-pressed={name === shown}
            onClick={() => setShown(name)}
          >
            {label}
          </Button>
        ))}
      </div>
      <Rows key={shown} name={shown} />
    </section>
  );
}

function Rows({ name }: { name: string }) {
  const client = useQueryClient();
  const key = ["registers", name];
  const found = useQuery({
    queryKey: key,
    queryFn: () => need(http.GET("/api/setup/registers/{name}", { params: { path: { name } } })),
  });
  const [open, setOpen] = useState<string | null>(null);
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return null;
  const { columns, rows } = found.data;
  const first = columns.find((c) => c.key)!.name;
  const shown = (now: Register) => {
    client.setQueryData(key, now);
    void client.invalidateQueries({ queryKey: ["orders", "choices"] });
    void client.invalidateQueries({ queryKey: ["parameters"] });
    setOpen(null);
  };
  return (
    <table className="list register" aria-label={found.data.label}>
      <thead>
        <tr>
          {columns.map((c) => (
            <th key={c.name}>{c.label}</th>
          ))}
          <th />
        </tr>
      </thead>
      <tbody>
        {rows.map((r) =>
          open === r.cells[first] ? (
            <RowForm
              key={`${r.cells[first]} ${r.revision}`}
              name={name}
              columns={columns}
              start={r.cells}
              revision={r.revision}
              shown={shown}
              leave={() => setOpen(null)}
            />
          ) : (
            <tr key={r.cells[first]}>
              {columns.map((c) => (
                <td key={c.name} dir="auto">
                  {c.how === "yes" ? (r.cells[c.name] === "yes" ? "✓" : "") : r.cells[c.name]}
                </td>
              ))}
              <td>
                <Button
                  size="small"
                  aria-label={`Change ${r.cells[first]}`}
                  onClick={() => setOpen(r.cells[first]!)}
                >
                  Change
                </Button>
              </td>
            </tr>
          ),
        )}
        {open === NEW ? (
          <RowForm
            name={name}
            columns={columns}
            start={Object.fromEntries(columns.map((c) => [c.name, c.how === "yes" ? "no" : ""]))}
            revision={null}
            shown={shown}
            leave={() => setOpen(null)}
          />
        ) : (
          <tr>
            <td colSpan={columns.length + 1}>
              <Button size="small" onClick={() => setOpen(NEW)}>
                One more
              </Button>
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
const NEW = "\n";

/** A row as it is being changed or made; Enter keeps it, Esc leaves it. */
function RowForm({
  name,
  columns,
  start,
  revision,
  shown,
  leave,
}: {
  name: string;
  columns: Column[];
  start: Cells;
  revision: number | null;
  shown: (now: Register) => void;
  leave: () => void;
}) {
  const [cells, setCells] = useState(start);
  const [wrong, setWrong] = useState<{ text: string; field: string } | null>(null);
  const first = columns.find((c) => c.key)!;
  const set = (column: string, value: string) => setCells({ ...cells, [column]: value });
  const act = async (work: () => Promise<Register>) => {
    try {
      shown(await work());
    } catch (bad) {
      setWrong({ text: (bad as Error).message, field: bad instanceof Problem ? bad.field : "" });
    }
  };
  const at = { params: { path: { name } } };
  const keep = () =>
    void act(() => need(http.POST("/api/setup/registers/{name}", { ...at, body: { cells, revision } })));
  const remove = () =>
    void act(() =>
      need(
        http.POST("/api/setup/registers/{name}/removal", {
          ...at,
          body: { key: start[first.name]!, revision: revision! },
        }),
      ),
    );
  return (
    <>
      <tr
        onKeyDown={(e) => {
          if (e.key === "Escape") leave();
          if (e.key === "Enter" && !(e.target instanceof HTMLButtonElement)) {
            e.preventDefault();
            keep();
          }
        }}
      >
        {columns.map((c, n) => (
          <td key={c.name}>
            {c.how === "yes" ? (
              <input
                type="checkbox"
                aria-label={c.label}
                checked={cells[c.name] === "yes"}
                onChange={(e) => set(c.name, e.target.checked ? "yes" : "no")}
              />
            ) : (
              <input
                className="plainselect"
                aria-label={c.label}
                aria-invalid={wrong?.field === c.name}
                readOnly={c.key && revision !== null}
                autoFocus={n === (revision === null ? 0 : 1)}
                placeholder={c.how === "day" ? "2026-12-01" : c.needed ? c.example : ""}
                value={cells[c.name] ?? ""}
                onChange={(e) => set(c.name, e.target.value)}
              />
            )}
          </td>
        ))}
        <td>
          <span className="row">
            <Button size="small" type="primary" onClick={keep}>
              Keep
            </Button>
            {revision !== null && (
              <Button size="small" onClick={remove}>
                Take away
              </Button>
            )}
            <Button size="small" onClick={leave}>
              Leave it
            </Button>
          </span>
        </td>
      </tr>
      {wrong && (
        <tr>
          <td colSpan={columns.length + 1} className="brick">
            {wrong.text}
          </td>
        </tr>
      )}
    </>
  );
}
