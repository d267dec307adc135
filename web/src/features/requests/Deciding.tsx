import { Button, Input } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useRefusal } from "../../kit/useRefusal";
import { useRequestWrites, type Request } from "./useRequests";

export type Way = "ask" | "decline" | "join";
const WAYS: Record<Way, { label: string; button: string; placeholder: string }> = {
  ask: { label: "What do you want to know?", button: "Ask back", placeholder: "it is read by whoever asked" },
  decline: { label: "Why is it declined?", button: "Decline", placeholder: "it is read by whoever asked" },
  join: { label: "To which WO?", button: "Join", placeholder: "WO-1234" },
};

/** What a planner does with a request: a WO of it, joined to one, asked back, declined. */
export function Deciding({
  request: r,
  way,
  choose,
  make,
  goingOn,
}: {
  request: Request;
  way: Way | null;
  choose: (way: Way | null) => void;
  make: () => void;
  /** A decision is sent: the next request comes into its place; or not, for it was refused. */
  goingOn: (on: boolean) => void;
}) {
  const writes = useRequestWrites();
  const refuse = useRefusal();
  const open = r.state === "new" || r.state === "asked back";
  const act = async (write: () => Promise<unknown>) => {
    goingOn(true);
    try {
      await write();
      choose(null);
    } catch (bad) {
      goingOn(false);
      refuse("Nothing was changed", bad);
    }
  };
  return (
    <>
      <section className="row wrap" role="group" aria-label="What to do with it">
        {open && (
          <>
            <Button type="primary" onClick={make}>
              Make a WO <kbd>M</kbd>
            </Button>
            <Button onClick={() => choose("join")}>
              Join … <kbd>J</kbd>
            </Button>
            <Button onClick={() => choose("ask")} disabled={r.state === "asked back"}>
              Ask back … <kbd>Q</kbd>
            </Button>
            <Button onClick={() => choose("decline")}>
              Decline … <kbd>D</kbd>
            </Button>
          </>
        )}
        {(r.state === "declined" || r.state === "in work") && (
          <Button onClick={() => void act(() => writes.openAgain(r))}>
            {r.state === "declined" ? "Open again" : `Take it off ${r.order}`}
          </Button>
        )}
      </section>
      {open && way && (
        <Worded
          key={way}
          way={way}
          leave={() => choose(null)}
          send={(text) =>
            act(() =>
              way === "ask"
                ? writes.askBack(r, text)
                : way === "decline"
                  ? writes.decline(r, text)
                  : writes.join(r, text),
            )
          }
        />
      )}
      {open && r.doubles.length > 0 && (
        <section aria-label="May be the same">
          <h2>May be the same</h2>
          {r.doubles.map((d) => (
            <Same key={d.kind + d.number} double={d} join={() => void act(() => writes.join(r, d.number))} />
          ))}
        </section>
      )}
    </>
  );
}

function Worded({
  way,
  send,
  leave,
}: {
  way: Way;
  send: (text: string) => Promise<void>;
  leave: () => void;
}) {
  const [text, setText] = useState("");
  const { label, button, placeholder } = WAYS[way];
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        void send(text);
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape" && !text) leave();
      }}
    >
      <label>
        {label}
        <Input
          autoFocus
          aria-label={label}
          placeholder={placeholder}
          value={text}
          maxLength={way === "join" ? 40 : 2000}
          onChange={(e) => setText(e.target.value)}
        />
      </label>
      <div className="row">
        <Button type="primary" htmlType="submit" disabled={!text.trim()}>
          {button}
        </Button>
        <Button onClick={leave}>Leave it</Button>
      </div>
    </form>
  );
}

function Same({ double: d, join }: { double: Shapes["Double"]; join: () => void }) {
  return (
    <div className="item row">
      <span className="grow" style={{ minWidth: 0 }}>
        <span className="strong">{d.number}</span> <span dir="auto">{d.title}</span>{" "}
        <span className="soft small">
          {d.state}
          {d.here ? "" : ` · ${d.asset}`}
          {d.alike > 0 ? ` · ${Math.round(100 * d.alike)} % alike` : ""}
        </span>
      </span>
      {d.kind === "work order" && (
        <Button size="small" aria-label={`Join to ${d.number}`} onClick={join}>
          Join
        </Button>
      )}
    </div>
  );
}
