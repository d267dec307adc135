import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { Moment } from "../../kit/When";
import { count, localMoment, zoned } from "../../kit/words";
import { useWeek } from "../week/context";

/**
 * What is drawn or changed: an asset of a line, run or work, from and to; `was` is the start of the window
 * that is changed.
 */
export interface Drawn {
  line: Shapes["AssetName"][];
  asset: string;
  kind: "work" | "run";
  was: string | null;
  start: string;
  end: string;
}

/** A window being drawn or changed, with what it would hit. */
export function WindowForm({ drawn, close }: { drawn: Drawn; close: () => void }) {
  const { week, now, changeWindow } = useWeek();
  const [asset, setAsset] = useState(drawn.asset);
  const [kind, setKind] = useState(drawn.kind);
  const [start, setStart] = useState(localMoment(drawn.start, now.timezone));
  const [end, setEnd] = useState(localMoment(drawn.end, now.timezone));
  const moment = (text: string) => zoned(text.slice(0, 10), text.slice(11, 16), now.timezone);
  const form = { asset, kind, was: drawn.was, start: moment(start), end: moment(end) };
  const hits = useHits(week, form, true);
  const send = async () => {
    if (await changeWindow(form)) close();
  };
  return (
    <section>
      <h1>{drawn.was ? "Change the window" : "Draw a window"}</h1>
      <form
        className="stack"
        aria-label="Window"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
        onKeyDown={(e) => {
          if (e.key === "Escape") {
            e.stopPropagation();
            close();
          }
        }}
      >
        {drawn.was === null && (
          <>
            <label>
              Asset
              <select className="plainselect" value={asset} onChange={(e) => setAsset(e.target.value)}>
                {drawn.line.map((a) => (
                  <option key={a.key} value={a.key}>
                    {a.name} ({a.key})
                  </option>
                ))}
              </select>
            </label>
            <label>
              What
              <select
                autoFocus
                className="plainselect"
                value={kind}
                onChange={(e) => setKind(e.target.value as "work" | "run")}
              >
                <option value="work">work window: may be touched</option>
                <option value="run">must run: may not be touched</option>
              </select>
            </label>
          </>
        )}
        <Moment label="From" value={start} change={setStart} />
        <Moment label="To" value={end} change={setEnd} />
        <Hits hits={hits} />
        <div className="row">
          <Button size="small" type="primary" htmlType="submit">
            {drawn.was ? "Change it" : "Draw it"}
          </Button>
          <Button size="small" onClick={close}>
            Leave it
          </Button>
        </div>
      </form>
    </section>
  );
}

/** Which rules a window would break, asked of the server while it is being drawn. */
export function useHits(week: string, form: Omit<Shapes["WindowForm"], "seen">, wanted: boolean) {
  return useQuery({
    queryKey: keys.part(week, "hits", form),
    queryFn: () =>
      need(
        http.POST("/api/weeks/{week}/windows/hits", {
          params: { path: { week } },
          body: { ...form, seen: 0 },
        }),
      ),
    enabled: wanted,
    retry: false,
  });
}

export function Hits({ hits }: { hits: ReturnType<typeof useHits> }) {
  if (hits.error)
    return (
      <p className="brick" role="status">
        {hits.error.message}
      </p>
    );
  if (!hits.data)
    return (
      <p className="soft" role="status">
        Looking at what it would hit …
      </p>
    );
  const { hit, mended } = hits.data;
  if (!hit.length && !mended.length)
    return (
      <p className="soft" role="status">
        It hits nothing that is placed.
      </p>
    );
  return (
    <div role="status">
      {hit.length > 0 && <p className="brick strong">▲ It would hit {count(hit.length, "placement")}</p>}
      {hit.slice(0, 6).map((c) => (
        <p key={c.text} className="brick small">
          {c.text}
        </p>
      ))}
      {mended.length > 0 && <p className="verdigris">✓ {count(mended.length, "conflict")} would be gone</p>}
    </div>
  );
}
