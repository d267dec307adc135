import { Alert, Button, Checkbox, Radio, Spin } from "antd";
import { useState } from "react";
import { Link } from "react-router";

import type { Shapes } from "../../api/client";
import { useMe } from "../../api/queries";
import { Side } from "../../kit/Side";
import { count } from "../../kit/words";
import { Differing } from "./Differing";
import { START, useBringing, useDifference, type Decision, type Mapping, type Opened } from "./useForeign";

interface Props {
  opened: Opened;
  mapping: Mapping;
  leaveOut: boolean;
  back: () => void;
  again: () => void;
}

const VANISHED: [Decision["vanished"], string][] = [
  ["leave", "leave as they are"],
  ["on hold", "put on hold"],
  ["cancelled", "cancel"],
  ["done", "take as done"],
];

/** What the export says against what is here, field by field, and what to do with each kind. */
export function DifferenceView({ opened, mapping, leaveOut, back, again }: Props) {
  const found = useDifference(opened.id, mapping, leaveOut);
  const [decision, decide] = useState<Decision>({ ...START, without_bad_rows: leaveOut });
  const bringing = useBringing(opened.id);
  const d = found.data;
  const state = bringing.now?.state;
  if (state === "done") return <Done result={bringing.now!.result!} again={again} />;
  const going = state === "waiting" || state === "working";
  return (
    <div className="foreign">
      <div className="listing">
        <div className="row" style={{ marginBottom: 8 }}>
          <h2 className="grow">
            {opened.file}{" "}
            <span className="soft" style={{ fontWeight: 400 }}>
              against what is here
            </span>
          </h2>
          <Button size="small" onClick={back} disabled={going}>
            ‹ How it is read
          </Button>
        </div>
        {found.isPending && (
          <div className="empty">
            <Spin />
          </div>
        )}
        {found.error && (
          <Alert type="error" showIcon title="It can not be compared" description={found.error.message} />
        )}
        {d && (
          <>
            <p>
              {count(d.new_count, "new WO")} · {d.changed_count} changed · {d.unchanged} unchanged
              {mapping.name && ` · ${d.vanished_count} vanished`}
              {d.kept > 0 && (
                <span className="soft"> · {count(d.kept, "field")} changed here and not there: kept</span>
              )}
            </p>
            <Differing file={opened.id} decision={decision} />
          </>
        )}
      </div>
      <Side name="What to do">
        {d && (
          <>
            <section>
              <h2>Comes in</h2>
              <p>
                <Checkbox
                  checked={decision.new}
                  onChange={(e) => decide({ ...decision, new: e.target.checked })}
                >
                  {count(d.new_count, "new WO")}
                </Checkbox>
              </p>
              <p>
                <Checkbox
                  checked={decision.changed}
                  onChange={(e) => decide({ ...decision, changed: e.target.checked })}
                >
                  {count(d.changed_count, "changed WO")}
                </Checkbox>
              </p>
              <div style={{ marginLeft: 22 }}>
                {d.fields.map((f) => (
                  <p key={f.name}>
                    <Checkbox
                      disabled={!decision.changed}
                      checked={decision.changed && !decision.fields.includes(f.name)}
                      onChange={(e) =>
                        decide({
                          ...decision,
                          fields: e.target.checked
                            ? decision.fields.filter((x) => x !== f.name)
                            : [...decision.fields, f.name],
                        })
                      }
                    >
                      {f.label} <span className="soft small">{f.count}</span>
                    </Checkbox>
                  </p>
                ))}
              </div>
            </section>
            {d.both > 0 && (
              <section className="box">
                <p className="strong">? {count(d.both, "field")} changed here and there</p>
                <Radio.Group
                  vertical
                  value={decision.both}
                  onChange={(e) => decide({ ...decision, both: e.target.value })}
                  options={[
                    { value: "ours", label: "keep what is here" },
                    { value: "theirs", label: "take what the export says" },
                  ]}
                />
              </section>
            )}
            {d.vanished_count > 0 && (
              <section>
                <h2>{count(d.vanished_count, "WO")} vanished</h2>
                <Radio.Group
                  vertical
                  value={decision.vanished}
                  onChange={(e) => decide({ ...decision, vanished: e.target.value })}
                  options={VANISHED.map(([value, label]) => ({ value, label }))}
                />
              </section>
            )}
            {d.changed.some((c) => c.week) && (
              <section>
                <p className="small soft">Placed work that changes is marked and stays where it is.</p>
              </section>
            )}
            {bringing.wrong && (
              <Alert type="error" showIcon title="Nothing was brought in" description={bringing.wrong} />
            )}
            {state === "failed" && (
              <Alert type="error" showIcon title="Nothing was brought in" description={bringing.now?.error} />
            )}
            {state === "stopped" && <Alert type="info" showIcon title="Stopped; nothing was changed" />}
            {going ? (
              <section aria-label="Progress">
                <div className="meter">
                  <i style={{ width: `${100 * (bringing.now?.progress ?? 0)}%` }} />
                </div>
                <div className="row" style={{ marginTop: 8 }}>
                  <span className="grow soft">{Math.round(100 * (bringing.now?.progress ?? 0))} %</span>
                  <Button onClick={() => void bringing.stop()}>Stop</Button>
                </div>
              </section>
            ) : (
              <Button type="primary" block onClick={() => void bringing.start(mapping, decision)}>
                Bring in
              </Button>
            )}
          </>
        )}
      </Side>
    </div>
  );
}

/** What was brought in, in sentences; of what did not happen nothing is said. */
function told(result: Shapes["BroughtIn"]): string {
  const made = count(result.made, "asset, area or craft", "assets, areas and crafts");
  return [
    `${count(result.new, "new WO")}, ${result.changed} changed, ${result.unchanged} unchanged.`,
    result.kept && `${count(result.kept, "field")} changed here by hand stayed.`,
    result.vanished &&
      result.vanished_as !== "leave" &&
      `${result.vanished} vanished: now ${result.vanished_as}.`,
    result.made && `${made} made.`,
  ]
    .filter(Boolean)
    .join(" ");
}

function Done({ result, again }: { result: Shapes["BroughtIn"]; again: () => void }) {
  const me = useMe().data;
  return (
    <section aria-label="Brought in" style={{ maxWidth: 620 }}>
      <Alert type="success" showIcon title="Brought in" description={told(result)} />
      {result.marked > 0 && (
        <p style={{ marginTop: 10 }}>
          <span className="ochre">◆ {count(result.marked, "placed WO")} changed</span>: marked in the week,
          not moved.
        </p>
      )}
      <div className="row" style={{ marginTop: 12 }}>
        <Button onClick={again}>Another file</Button>
        {me && <Link to={`/week/${me.week}/gather`}>To the week</Link>}
      </div>
    </section>
  );
}
