import { DatePicker } from "antd";
import dayjs from "dayjs";
import { useState } from "react";

interface Props {
  label: string;
  value: string;
  change: (value: string) => void;
}

/** A clock of 24 hours, `06:15`; typed as 6:15, 0615 or 6. */
export function Clock({ label, value, change }: Props) {
  const [text, setText] = useState(value);
  const [kept, setKept] = useState(value);
  if (kept !== value) {
    setKept(value);
    if (clockOf(text) !== value) setText(value);
  }
  const type = (typed: string) => {
    setText(typed);
    const clock = clockOf(typed);
    if (clock) change(clock);
  };
  return <label className="grow">{label}<input className="plainselect" aria-label={label} inputMode="numeric" value={text} aria-invalid={!clockOf(text)} onChange={(e) => type(e.target.value)} onBlur={() => setText(value)} style={{ padding: "0 6px" }} /></label>;
}

function clockOf(typed: string): string | null {
  const found = /^(\d{1,2})[:.]?(\d{2})?$/.exec(typed.trim());
  const [hour, minute] = [Number(found?.[1]), Number(found?.[2] ?? 0)];
  return found && hour < 24 && minute < 60 ? `${String(hour).padStart(2, "0")}:${String(minute).padStart(2, "0")}` : null;
}

/** A day in words, `2026-12-01`; empty if none is needed. */
export function Day({ label, value, change, least, bare = false }: Props & { least?: string; bare?: boolean }) {
  const field = <DatePicker aria-label={label} size="small" format="D MMM YYYY" allowClear={bare} placeholder={bare ? "no end" : ""} minDate={least ? dayjs(least) : undefined} value={value ? dayjs(value) : null} onChange={(d) => change(d ? d.format("YYYY-MM-DD") : "")} style={{ width: bare ? 128 : "100%" }} />;
  return bare ? field : <label className="grow">{label}{field}</label>;
}

/** A day and clock of the site, `2026-12-01T06:15`. */
export function Moment({ label, value, change }: Props) {
  return <label>{label}<DatePicker aria-label={label} size="small" showTime={{ format: "HH:mm", minuteStep: 15 }} format="ddd D MMM YYYY HH:mm" needConfirm={false} allowClear={false} value={dayjs(value)} onChange={(d) => d && change(d.format("YYYY-MM-DDTHH:mm"))} style={{ width: "100%" }} /></label>;
}
