import { App, Button, Dropdown, Input } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { useRefusal } from "../../kit/useRefusal";
import { Day } from "../../kit/When";
import { Worded } from "../../kit/Worded";
import { count } from "../../kit/words";
import { useChoices } from "../orders/useOrders";
import { serviceOf } from "./serviceCells";
import { usePreventiveWrites } from "./usePreventive";

type Act = Shapes["ManyServices"]["act"];
const ASKED: Partial<Record<Act, string>> = {
  shift: "Shift by days",
  give: "Make answerable",
  done: "Report done",
  "last done": "Correct the last time",
};

/**
 * What can be done with the services that are chosen: held, taken up, shifted, given to a crew, reported as
 * done.
 */
export function ActOnServices({ keys, done: leave }: { keys: string[]; done: () => void }) {
  const [asked, setAsked] = useState<Act | null>(null);
  const [told, setTold] = useState<Shapes["ManyMoved"] | null>(null);
  const { actOnMany, raisePicked } = usePreventiveWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const picked = keys.map(serviceOf);
  const act = async (what: Act, more: Partial<Shapes["ManyServices"]> = {}) => {
    try {
      const moved = await actOnMany({
        picked,
        act: what,
        days: 0,
        crew: "",
        day: null,
        comment: "",
        ...more,
      });
      setAsked(null);
      if (moved.refused.length) setTold(moved);
      else {
        void message.success(`${count(moved.count, "service")} changed`);
        leave();
      }
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  const raise = async () => {
    try {
      const { made, not_made } = await raisePicked(picked);
      void message.success(`${count(made.length, "service")} raised`);
      if (not_made.length) void message.warning(`${not_made.length} not: ${not_made[0]!.why}`);
      leave();
    } catch (bad) {
      refuse("Nothing was raised", bad);
    }
  };
  return (
    <>
      <Button size="small" type="primary" onClick={() => void raise()}>
        Raise
      </Button>
      <Button size="small" onClick={() => void act("hold")}>
        Hold
      </Button>
      <Button size="small" onClick={() => void act("take up")}>
        Take up
      </Button>
      <Dropdown
        trigger={["click"]}
        menu={{
          items: Object.entries(ASKED).map(([key, label]) => ({ key, label: `${label} …` })),
          onClick: ({ key }) => setAsked(key as Act),
        }}
      >
        <Button size="small">More ▾</Button>
      </Dropdown>
      {asked && <Ask key={asked} act={asked} many={picked.length} send={act} close={() => setAsked(null)} />}
      {told && (
        <Panel
          title={`${count(told.count, "service")} changed, ${told.refused.length} not`}
          close={() => {
            setTold(null);
            leave();
          }}
        >
          {told.refused.map((r) => (
            <p key={r.plan + r.asset} className="item">
              {r.plan} on {r.asset} <span className="secondline ochre small">{r.why}</span>
            </p>
          ))}
        </Panel>
      )}
    </>
  );
}

function Ask({
  act,
  many,
  send,
  close,
}: {
  act: Act;
  many: number;
  send: (act: Act, more: Partial<Shapes["ManyServices"]>) => Promise<void>;
  close: () => void;
}) {
  const [value, setValue] = useState("");
  const [comment, setComment] = useState("");
  const { used } = useChoices();
  const more =
    act === "shift"
      ? { days: Number(value) || 0 }
      : act === "give"
        ? { crew: value }
        : { day: value, comment };
  const ready = act === "give" || (act === "shift" ? Number(value) !== 0 : value !== "");
  return (
    <Panel title={`${ASKED[act]}: ${count(many, "service")}`} close={close} unsaved={value !== ""}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send(act, more);
        }}
      >
        {act === "shift" && (
          <label>
            Days, − for sooner
            <Input
              aria-label="Days"
              autoFocus
              value={value}
              placeholder="+3"
              onChange={(e) => setValue(e.target.value.replace("−", "-").replace(/[^\d+-]/g, ""))}
            />
          </label>
        )}
        {act === "give" && (
          <Worded label="Answerable crew or person" used={used.crews} value={value} change={setValue} />
        )}
        {act === "done" && (
          <label>
            All that is raised of them was done on
            <Day bare label="Done on" value={value} change={setValue} />
          </label>
        )}
        {act === "done" && (
          <label>
            Comment, a note on each WO
            <Input.TextArea
              aria-label="Comment"
              autoSize={{ minRows: 2, maxRows: 6 }}
              maxLength={2000}
              value={comment}
              onChange={(e) => setComment(e.target.value)}
            />
          </label>
        )}
        {act === "last done" && (
          <label>
            They were done last on
            <Day bare label="Last done on" value={value} change={setValue} />
          </label>
        )}
        <Button type="primary" htmlType="submit" disabled={!ready}>
          {ASKED[act]}
        </Button>
      </form>
    </Panel>
  );
}
