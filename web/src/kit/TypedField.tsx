import { DatePicker } from "antd";
import dayjs from "dayjs";
import { useEffect, useId, useRef, useState } from "react";

export interface Props {
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
  /** Has the focus, with all of it marked, as it appears. */
  first?: boolean;
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

/**
 * What is typed is what counts: each keystroke is read, and what can not be read is refused in words and not
 * sent.
 */
export function Field({
  label,
  value,
  change,
  bare,
  empty,
  placeholder,
  wrong,
  first,
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
  useEffect(() => {
    if (!first) return;
    input.current?.focus();
    input.current?.select();
  }, [first]);
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
