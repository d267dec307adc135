import { DatePicker } from "antd";
import dayjs from "dayjs";
import { useEffect, useId, useRef, useState } from "react";

import { CLOCK_WORDS, clockOf, DAY_WORDS, dayOf, MOMENT_WORDS, momentOf } from "./typedDates";
import { dayName } from "./words";

interface Props {
  label: string;
  value: string;
  change: (value: string) => void;
  /** The field's own name is not shown, where a heading or its line says it. */
  bare?: boolean;
  /** May be left empty. */
  empty?: boolean;
  placeholder?: string;
  /** The server refused what it holds. */
  wrong?: boolean;
  width?: number;
}

interface FieldProps extends Props {
  read: (typed: string) => string | null;
  show: (value: string) => string;
  words: string;
  /** What is wrong with a value that could be read. */
  refuse?: (value: string) => string | null;
  pick?: { value: string; change: (day: string) => void };
}

/** What is typed is what counts: each keystroke is read, and what can not be read is refused in words and not sent. */
function Field({
  label,
  value,
  change,
  bare,
  empty,
  placeholder,
  wrong,
  width,
  read,
  show,
  words,
  refuse,
  pick,
}: FieldProps) {
  const [text, setText] = useState(value && show(value));
  const [kept, setKept] = useState(value);
  const input = useRef<HTMLInputElement>(null);
  const told = useId();
  const understood = (typed: string) => (typed.trim() === "" ? (empty ? "" : null) : read(typed));
  if (kept !== value) {
    setKept(value);
    if (understood(text) !== value) setText(value && show(value));
  }
  const now = understood(text);
  const problem =
    now === null
      ? text.trim()
        ? `“${text.trim()}” can not be read: ${words}`
        : `Fill it in: ${words}`
      : now
        ? (refuse?.(now) ?? null)
        : null;
  useEffect(() => {
    input.current?.setCustomValidity(problem ?? "");
  }, [problem]);
  const type = (typed: string) => {
    setText(typed);
    const found = understood(typed);
    if (found !== null) change(found);
  };
  const field = (
    <span className="typedfield" style={{ width }}>
      <input
        ref={input}
        className="plainselect"
        aria-label={label}
        aria-invalid={wrong || problem !== null}
        aria-describedby={problem ? told : undefined}
        autoComplete="off"
        placeholder={placeholder}
        value={text}
        onChange={(e) => type(e.target.value)}
        onBlur={() => now !== null && setText(now && show(now))}
      />
      {pick && (
        <span aria-hidden title="Calendar">
          <DatePicker
            className="pickday"
            variant="borderless"
            inputReadOnly
            allowClear={false}
            tabIndex={-1}
            value={pick.value ? dayjs(pick.value) : null}
            onChange={(d) => d && pick.change(d.format("YYYY-MM-DD"))}
          />
        </span>
      )}
      {problem && text && (
        <span id={told} className="small brick refused" role="status">
          {problem}
        </span>
      )}
    </span>
  );
  return bare ? (
    field
  ) : (
    <label className="grow">
      {label}
      {field}
    </label>
  );
}

/** A clock of 24 hours, `06:15`; typed as 6:15, 0615 or 6. */
export function Clock(props: Props) {
  return <Field {...props} read={clockOf} show={(v) => v} words={CLOCK_WORDS} />;
}

const dayWords = (day: string) => `${dayName(day)} ${day.slice(0, 4)}`;

/** A day in words, `2026-12-01`; not before `least`. */
export function Day({ least, ...props }: Props & { least?: string }) {
  const near = props.value || least || dayjs().format("YYYY-MM-DD");
  const refuse = (day: string) => (least && day < least ? `Not before ${dayName(least)}` : null);
  return (
    <Field
      {...props}
      read={(t) => dayOf(t, near)}
      show={dayWords}
      words={DAY_WORDS}
      refuse={refuse}
      pick={{ value: props.value, change: props.change }}
    />
  );
}

/** A day and clock of the site, `2026-12-01T06:15`; a day alone is read with the clock `alone`. */
export function Moment({ alone = "00:00", ...props }: Props & { alone?: string }) {
  const near = props.value || dayjs().format("YYYY-MM-DD");
  const pick = (day: string) => props.change(`${day}T${props.value.slice(11, 16) || alone}`);
  const show = (v: string) => `${dayWords(v)} ${v.slice(11, 16)}`;
  return (
    <Field
      {...props}
      read={(t) => momentOf(t, near, alone)}
      show={show}
      words={MOMENT_WORDS}
      pick={{ value: props.value, change: pick }}
    />
  );
}
