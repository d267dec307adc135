import { Button, Input } from "antd";
import { useState } from "react";

import { useRefusal } from "./useRefusal";

/** A line in which somebody says something of a record; it stays typed until it is said. */
export function SayIt({
  say,
  placeholder,
  label = "Say something",
}: {
  say: (text: string) => Promise<unknown>;
  placeholder: string;
  label?: string;
}) {
  const [text, setText] = useState("");
  const [busy, setBusy] = useState(false);
  const refuse = useRefusal();
  const send = async () => {
    setBusy(true);
    try {
      await say(text);
      setText("");
    } catch (bad) {
      refuse("Nothing was said", bad);
    }
    setBusy(false);
  };
  return (
    <form
      className="row"
      style={{ marginTop: 8 }}
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
    >
      <Input
        aria-label={label}
        placeholder={placeholder}
        value={text}
        maxLength={2000}
        onChange={(e) => setText(e.target.value)}
      />
      <Button htmlType="submit" loading={busy} disabled={!text.trim()}>
        Say it
      </Button>
    </form>
  );
}
