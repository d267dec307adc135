import { InputNumber } from "antd";

import type { Shapes } from "../../api/client";

type Way = Shapes["WayShape"];

/** Minutes between areas: a small table, each pair once, the same both ways. */
export function Ways({
  areas,
  ways,
  set,
}: {
  areas: Shapes["AreaName"][];
  ways: Way[];
  set: (ways: Way[]) => void;
}) {
  if (areas.length < 2) return null;
  const pair = (a: string, b: string): [string, string] => (a < b ? [a, b] : [b, a]);
  const of = (a: string, b: string) =>
    ways.find((w) => {
      const [x, y] = pair(a, b);
      return w.start === x && w.end === y;
    })?.minutes ?? 0;
  const change = (a: string, b: string, minutes: number) => {
    const [start, end] = pair(a, b);
    set([
      ...ways.filter((w) => w.start !== start || w.end !== end),
      ...(minutes ? [{ start, end, minutes }] : []),
    ]);
  };
  return (
    <>
      <h2 id="ways">Ways between areas</h2>
      <p className="soft">
        Minutes from one area to another, the same both ways. Between two jobs in different areas a person
        gets at least these; where a way over a third area is shorter, that counts.
      </p>
      <table className="plain ways" aria-label="Minutes between areas">
        <thead>
          <tr>
            <th />
            {areas.slice(1).map((a) => (
              <th key={a.key}>{a.name}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {areas.slice(0, -1).map((a, r) => (
            <tr key={a.key}>
              <th>{a.name}</th>
              {areas.slice(1).map((b, c) => (
                <td key={b.key}>
                  {c >= r && (
                    <InputNumber
                      aria-label={`Minutes from ${a.name} to ${b.name}`}
                      min={0}
                      max={600}
                      precision={0}
                      value={of(a.key, b.key)}
                      onChange={(v) => change(a.key, b.key, v ?? 0)}
                    />
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
