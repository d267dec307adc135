import { Alert, Button, Input, Upload } from "antd";
import { useState } from "react";

import { Problem } from "../../api/client";
import { Choice } from "../../kit/Choice";
import { Typed } from "../../kit/Typed";
import { AssetTree } from "../orders/AssetTree";
import { useChoices } from "../orders/useOrders";
import { Scan } from "./Scan";
import { URGENCIES, useRequestWrites, type Urgency } from "./useRequests";

/** A need, in the words of whoever saw it: what, where, how urgent, with photos. */
export function ReportForm({
  done,
  unsaved,
  start = {},
}: {
  /** What is known already. */
  start?: { title?: string; asset?: string; description?: string };
  done: (number: string) => void;
  unsaved?: (is: boolean) => void;
}) {
  const { assets, tree } = useChoices();
  const { report } = useRequestWrites();
  const [title, setTitle] = useState(start.title ?? "");
  const [asset, setAsset] = useState(start.asset ?? "");
  const [picked, setPicked] = useState(0);
  const [inTree, setInTree] = useState(false);
  const [place, setPlace] = useState("");
  const [more, setMore] = useState(start.description ?? "");
  const [urgency, setUrgency] = useState("when it fits");
  const [files, setFiles] = useState<File[]>([]);
  const [wrong, setWrong] = useState<{ text: string; field: string } | null>(null);
  const [busy, setBusy] = useState(false);
  const pick = (key: string) => {
    setAsset(key);
    setPicked(picked + 1);
    setInTree(false);
  };
  const typed = (set: (text: string) => void) => (e: { target: { value: string } }) => {
    set(e.target.value);
    unsaved?.(true);
  };
  const scanned = (code: string) => {
    const of = tree.find((a) => a.key.toLowerCase() === code.trim().toLowerCase());
    if (of) pick(of.key);
    else setPlace(code.trim());
  };
  const send = async () => {
    setBusy(true);
    setWrong(null);
    try {
      const form = { title, asset: asset || null, place, description: more, urgency: urgency as Urgency };
      done(await report(form as Parameters<typeof report>[0], files));
    } catch (bad) {
      setWrong({ text: (bad as Error).message, field: bad instanceof Problem ? bad.field : "" });
    }
    setBusy(false);
  };
  const status = (field: string) => (wrong?.field === field ? "error" : undefined);
  if (inTree)
    return (
      <div>
        <Button size="small" onClick={() => setInTree(false)} style={{ marginBottom: 8 }}>
          ‹ Back
        </Button>
        <AssetTree assets={tree} value={asset} choose={pick} />
      </div>
    );
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
    >
      <label>
        What did you see?
        <Input
          autoFocus
          aria-label="What did you see?"
          status={status("title")}
          value={title}
          maxLength={200}
          placeholder="in a few words"
          onChange={typed(setTitle)}
        />
      </label>
      <div className="row wrap">
        <Typed
          key={`asset ${picked}`}
          label="On which asset?"
          options={assets}
          value={asset || null}
          change={(v) => setAsset(v ?? "")}
          placeholder="a word of its name, or its code"
          wrong={wrong?.field === "asset"}
        />
        <Button style={{ alignSelf: "end" }} onClick={() => setInTree(true)}>
          Tree
        </Button>
        <Scan found={scanned} />
      </div>
      <div className="row wrap">
        <label className="grow">
          Or where?
          <Input
            aria-label="Or where?"
            value={place}
            maxLength={160}
            placeholder="if it is no asset, or to find it"
            onChange={typed(setPlace)}
          />
        </label>
        <Choice label="How urgent?" width={140} value={urgency} change={setUrgency} options={URGENCIES} />
      </div>
      <label>
        More of it
        <Input.TextArea
          aria-label="More of it"
          rows={4}
          value={more}
          maxLength={4000}
          placeholder="since when, how often, what else was strange"
          onChange={typed(setMore)}
        />
      </label>
      <Upload
        multiple
        beforeUpload={(_, all) => {
          setFiles((f) => [...f, ...all.filter((a) => !f.includes(a))]);
          return false;
        }}
        fileList={files.map((f, n) => ({ uid: String(n), name: f.name }))}
        onRemove={(f) => setFiles(files.filter((_, n) => String(n) !== f.uid))}
      >
        <Button>Photos and files …</Button>
      </Upload>
      {wrong && <Alert type="error" showIcon title="Not reported yet" description={wrong.text} />}
      <div className="row">
        <Button type="primary" htmlType="submit" loading={busy} disabled={!title.trim()}>
          Report it
        </Button>
      </div>
    </form>
  );
}
