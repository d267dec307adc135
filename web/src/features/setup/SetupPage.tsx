import { useQueryClient } from "@tanstack/react-query";
import { App, Button, Input, InputNumber, Spin } from "antd";
import { useState } from "react";

import { http, need, Problem, type Shapes } from "../../api/client";
import { useParameters } from "../../api/queries";
import { useTitle } from "../../app/title";
import { Differs, type FieldDiffers } from "../../kit/Differs";
import { useRefusal } from "../../kit/useRefusal";
import { Background } from "../background/Background";
import { Prices } from "./Prices";
import { changedLines } from "./changedLines";
import { KEPT, WEIGHTS } from "./parameters";
import { Rates } from "./Rates";
import { Registers } from "./Registers";
import { Ways } from "./Ways";
import { Limits } from "./Limits";
import { Line } from "./Line";

type Parameters = Shapes["Parameters"];
/** The parts of the page, by the ids of their headings. */
const PARTS = [
  ["search", "Search"],
  ["weights", "Weights"],
  ["loose", "Loose ends"],
  ["ways", "Ways between areas"],
  ["held", "Held-back hours"],
  ["rates", "Costs of an hour"],
  ["approvals", "Approval of buying"],
  ["reasons", "Why work is not done"],
  ["kept", "What is kept for a time"],
  ["registers", "Lists of the site"],
  ["background", "Done by itself"],
] as const;

/**
 * Set-up: what the engine weighs, how long it searches, what each craft holds back; each with what it does.
 */
export function SetupPage() {
  const found = useParameters();
  useTitle("Set-up");
  if (found.error)
    return (
      <main className="page">
        <div className="empty">
          <h2>The set-up can not be shown</h2>
          <p>{found.error.message}</p>
        </div>
      </main>
    );
  if (!found.data)
    return (
      <main className="page">
        <div className="empty">
          <Spin />
        </div>
      </main>
    );
  return <Form found={found.data} />;
}

function Form({ found }: { found: Parameters }) {
  const [base, setBase] = useState(found);
  const [form, setForm] = useState(found);
  const [differs, setDiffers] = useState<FieldDiffers[] | null>(null);
  const [busy, setBusy] = useState(false);
  const client = useQueryClient();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const changed = JSON.stringify(form) !== JSON.stringify(base);
  const told = changedLines(base, form);
  const shown = (now: Parameters) => {
    client.setQueryData(["parameters"], now);
    setBase(now);
    setForm(now);
  };
  const onTop = async () => {
    const now = await need(http.GET("/api/setup"));
    const typed = Object.entries(form).filter(
      ([name, value]) => JSON.stringify(value) !== JSON.stringify(base[name as keyof Parameters]),
    );
    shown(now);
    setForm({ ...now, ...Object.fromEntries(typed), revision: now.revision });
    setDiffers(null);
  };
  const save = async () => {
    setBusy(true);
    setDiffers(null);
    try {
      const held = Object.fromEntries(form.crafts.map((c) => [c.key, c.held_back]));
      shown(
        await need(
          http.PUT("/api/setup", {
            body: {
              revision: base.revision,
              seconds: form.seconds,
              weights: form.weights,
              held_back: held,
              reasons: form.reasons.map((r) => r.trim()).filter(Boolean),
              keep_days: form.keep_days,
              ways: form.ways,
              rates: Object.fromEntries(form.crafts.map((c) => [c.key, c.rate])),
              currency: form.currency,
              sheets_to: form.sheets_to.map((a) => a.trim()).filter(Boolean),
              approvals: Object.fromEntries(
                form.approvals.flatMap((a) => (a.limit === null ? [] : [[a.role, a.limit]])),
              ),
            },
          }),
        ),
      );
      void client.invalidateQueries({ queryKey: ["week"] });
      void message.success("Saved. Values and bounds of all weeks follow.");
    } catch (bad) {
      const lines = bad instanceof Problem ? (bad.facts.differs as FieldDiffers[] | undefined) : undefined;
      if (lines) setDiffers(lines);
      else refuse("Not saved", bad);
    } finally {
      setBusy(false);
    }
  };
  return (
    <main className="page setup">
      <form
        id="setup"
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        <h1>Set-up</h1>
        <p className="soft">
          What the engine weighs when it builds a week. A job is worth its priority for each hour of work; the
          rest is said here.
        </p>
        <h2 id="search">Search</h2>
        <Line
          label="Seconds to search"
          unit="s"
          why={
            "How long a build looks for a better week. The first whole week is there in less than a " +
            "second; most of the gain comes in the first ten."
          }
        >
          <InputNumber
            aria-label="Seconds to search"
            min={1}
            max={600}
            value={form.seconds}
            onChange={(v) => setForm({ ...form, seconds: v ?? form.seconds })}
          />
        </Line>
        <h2 id="weights">Weights</h2>
        {WEIGHTS.map((w) => (
          <Line key={w.name} label={w.label} unit={w.unit} why={w.why}>
            <InputNumber
              aria-label={w.label}
              min={0}
              max={w.most}
              value={w.share ? +(100 * form.weights[w.name]).toFixed(2) : form.weights[w.name]}
              onChange={(v) =>
                setForm({ ...form, weights: { ...form.weights, [w.name]: (v ?? 0) / (w.share ? 100 : 1) } })
              }
            />
          </Line>
        ))}
        <Prices
          weights={form.weights}
          usual={form.usual_prices}
          set={(weights) => setForm({ ...form, weights })}
        />
        <Ways areas={form.areas} ways={form.ways} set={(ways) => setForm({ ...form, ways })} />
        <h2 id="held">Held-back hours</h2>
        <p className="soft">
          The share of a craft's regular hours that a build leaves free for emergencies. Mending a week may
          use them.
        </p>
        <div className="shares">
          {form.crafts.map((c, n) => (
            <label key={c.key}>
              {c.name}
              <span className="row">
                <InputNumber
                  aria-label={`Held back of ${c.name}`}
                  min={0}
                  max={90}
                  value={+(100 * c.held_back).toFixed(1)}
                  onChange={(v) =>
                    setForm({
                      ...form,
                      crafts: form.crafts.map((x, k) => (k === n ? { ...x, held_back: (v ?? 0) / 100 } : x)),
                    })
                  }
                />{" "}
                %
              </span>
            </label>
          ))}
        </div>
        <Rates
          crafts={form.crafts}
          currency={form.currency}
          set={(crafts, currency) => setForm({ ...form, crafts, currency })}
        />
        <Limits limits={form.approvals} set={(approvals) => setForm({ ...form, approvals })} />
        <h2 id="reasons">Why work is not done</h2>
        <p className="soft">
          The reasons to choose from when a task is reported as not done and when a week is closed; one on
          each line.
        </p>
        <Input.TextArea
          aria-label="Reasons"
          autoSize={{ minRows: 4 }}
          value={form.reasons.join("\n")}
          onChange={(e) => setForm({ ...form, reasons: e.target.value.split("\n") })}
          style={{ maxWidth: 420 }}
        />
        <h2 id="sheets">Preventive sheets</h2>
        <p className="soft">
          Each Monday at 8:00 the sheets of the week&apos;s preventive work are laid out into the print
          folder, and sent to these addresses; one on each line.
        </p>
        <Input.TextArea
          aria-label="Addresses for preventive sheets"
          autoSize={{ minRows: 2 }}
          value={form.sheets_to.join("\n")}
          onChange={(e) => setForm({ ...form, sheets_to: e.target.value.split("\n") })}
          style={{ maxWidth: 420 }}
        />
        <h2 id="kept">What is kept for a time</h2>
        <p className="soft">
          What is older goes by itself. The log of edits, published revisions and reviews of closed weeks stay
          always.
        </p>
        {KEPT.map((k) => (
          <Line key={k.name} label={k.label} unit="days" why={k.why}>
            <InputNumber
              aria-label={k.label}
              min={1}
              max={3650}
              precision={0}
              value={form.keep_days[k.name]}
              onChange={(v) =>
                setForm({ ...form, keep_days: { ...form.keep_days, [k.name]: v ?? form.keep_days[k.name] } })
              }
            />
          </Line>
        ))}
      </form>
      <aside className="setupside" aria-label="This page">
        <nav aria-label="Parts of the set-up">
          {PARTS.map(([id, name]) => (
            <a
              key={id}
              href={`#${id}`}
              onClick={(e) => {
                e.preventDefault();
                document.getElementById(id)?.scrollIntoView({ behavior: "smooth" });
              }}
            >
              {name}
            </a>
          ))}
        </nav>
        <section aria-label="Not saved yet">
          <h2>{told.length ? "Not saved yet" : "All is saved"}</h2>
          {told.map((line) => (
            <p key={line.name} className="small">
              {line.name}{" "}
              {line.was !== null && (
                <span className="soft">
                  <s>{line.was}</s> <span className="strong">{line.is}</span>
                </span>
              )}
            </p>
          ))}
          {differs && <Differs lines={differs} apply={() => void onTop()} />}
          <div className="row" style={{ marginTop: 12 }}>
            <Button type="primary" form="setup" htmlType="submit" loading={busy} disabled={!changed}>
              Save
            </Button>
            {changed && <Button onClick={() => setForm(base)}>Back to what it was</Button>}
          </div>
        </section>
      </aside>
      <Registers />
      <Background />
    </main>
  );
}
