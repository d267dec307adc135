import { Button, Checkbox, Input } from "antd";
import { useState } from "react";

import { Panel } from "../../kit/Panel";
import { KeptEnd } from "../../kit/useKeptForm";
import { useRefusal } from "../../kit/useRefusal";
import { Day } from "../../kit/When";
import { useBuyingWrites, type Purchase } from "./useBuying";

type Line = Purchase["lines"][number];

/** What can be done with a line of an order: another day, no more awaited, taken off, sent back. */
export function LineDeeds({ of, line }: { of: Purchase; line: Line }) {
  const [panel, setPanel] = useState<"day" | "back" | null>(null);
  const { promise, takeOff } = useBuyingWrites();
  const refuse = useRefusal();
  const act = async (work: Promise<unknown>) => {
    try {
      await work;
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  const said = { line: line.line, day: line.day, confirmed: line.confirmed, revision: of.revision };
  const placed = of.state === "placed" || of.state === "delivered";
  const short = line.received < line.quantity;
  return (
    <div className="row wrap" style={{ marginTop: 4 }}>
      {placed && short && line.awaited && (
        <Button size="small" onClick={() => setPanel("day")}>
          Comes …
        </Button>
      )}
      {placed && short && (
        <Button
          size="small"
          onClick={() => void act(promise(of.number, { ...said, awaited: !line.awaited }))}
        >
          {line.awaited ? "No more comes" : "Await the rest"}
        </Button>
      )}
      {line.received > 0 && (
        <Button size="small" onClick={() => setPanel("back")}>
          Send back …
        </Button>
      )}
      {(of.state === "written" || of.state === "placed") && line.received === 0 && (
        <Button
          size="small"
          onClick={() => void act(takeOff(of.number, { line: line.line, revision: of.revision }))}
        >
          Take off
        </Button>
      )}
      {panel === "day" && <Comes of={of} line={line} close={() => setPanel(null)} />}
      {panel === "back" && <SendBack of={of} line={line} close={() => setPanel(null)} />}
    </div>
  );
}

function Comes({ of, line, close }: { of: Purchase; line: Line; close: () => void }) {
  const [day, setDay] = useState(line.day ?? "");
  const [confirmed, setConfirmed] = useState(true);
  const [wrong, setWrong] = useState<{ text: string } | null>(null);
  const { promise } = useBuyingWrites();
  const send = async () => {
    try {
      await promise(of.number, {
        line: line.line,
        day: day || null,
        confirmed,
        awaited: true,
        revision: of.revision,
      });
      close();
    } catch (bad) {
      setWrong({ text: (bad as Error).message });
    }
  };
  return (
    <Panel title={`When ${line.name} comes`} close={close} unsaved={day !== (line.day ?? "")}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <Day label="Comes on" empty first value={day} change={setDay} />
        <Checkbox checked={confirmed} onChange={(e) => setConfirmed(e.target.checked)}>
          The supplier says so
        </Checkbox>
        <KeptEnd wrong={wrong} send="Save" leave={close} />
      </form>
    </Panel>
  );
}

function SendBack({ of, line, close }: { of: Purchase; line: Line; close: () => void }) {
  const [quantity, setQuantity] = useState("1");
  const [shelf, setShelf] = useState("");
  const [reason, setReason] = useState("");
  const [wrong, setWrong] = useState<{ text: string } | null>(null);
  const { sendBack } = useBuyingWrites();
  const send = async () => {
    try {
      const back = { line: line.line, quantity: Number(quantity), shelf, lot: "" };
      await sendBack(of.number, { back, reason, revision: of.revision });
      close();
    } catch (bad) {
      setWrong({ text: (bad as Error).message });
    }
  };
  const field = (label: string, value: string, change: (v: string) => void, width?: number) => (
    <label className={width ? "" : "grow"} style={{ width }}>
      {label}
      <Input aria-label={label} value={value} onChange={(e) => change(e.target.value)} />
    </label>
  );
  return (
    <Panel title={`Send back: ${line.name}`} close={close} unsaved={reason !== ""}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <div className="row">
          {field("Quantity", quantity, setQuantity, 100)}
          {line.storeroom && field("From shelf", shelf, setShelf)}
        </div>
        {field("Why it goes back", reason, setReason)}
        <KeptEnd wrong={wrong} send="Send back" leave={close} />
      </form>
    </Panel>
  );
}
