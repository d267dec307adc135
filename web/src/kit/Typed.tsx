import { useEffect, useId, useRef, useState } from "react";

interface Props {
  label: string;
  options: { value: string; label: string }[];
  value: string | null;
  change: (value: string | null) => void;
  placeholder?: string;
  /** The server refused what is chosen. */
  wrong?: boolean;
  /** The field's own name is not shown, where a heading or its line says it. */
  bare?: boolean;
  autoFocus?: boolean;
  /** Enter takes what fits, one after another: `change` is not asked then, and the field is empty again. */
  take?: (value: string) => void;
}

/**
 * A choice by typing a part of its name: the first that fits is taken at once and told below, so that fast
 * hands need no list.
 */
export function Typed({ label, options, value, change, placeholder, wrong, bare, autoFocus, take }: Props) {
  const list = useId();
  const [text, setText] = useState(options.find((o) => o.value === value)?.label ?? "");
  const [began, setBegan] = useState(false);
  const [within, setWithin] = useState(false); // the field has the keyboard
  const [early, setEarly] = useState(false); // Enter came before the choices
  const found = fitting(options, text);
  const first = found[0]?.value ?? null;
  const chosen = options.find((o) => o.value === (take ? first : value));
  if (!began && chosen && text === "") setText(chosen.label); // the choices came after the value
  // The label of what is chosen, also if the choices came after the field was left.
  const shown = !within && !take && chosen ? chosen.label : text;
  const taken = useRef(take);
  useEffect(() => {
    taken.current = take;
  });
  useEffect(() => {
    if (early && first !== null) taken.current?.(first);
  }, [early, first]);
  useEffect(() => {
    if (!take && value === null && first !== null) change(first); // the choices came after what was typed
  }, [value, first, change, take]);
  const type = (typed: string) => {
    setBegan(true);
    setText(typed);
    setEarly(false);
    if (!take) change(fitting(options, typed)[0]?.value ?? null);
  };
  return (
    <label className="grow typed">
      {!bare && label}
      <input
        className="plainselect"
        style={bare ? { height: 24, padding: "0 6px" } : { height: 32, padding: "0 10px" }}
        aria-label={label}
        list={list}
        autoComplete="off"
        value={shown}
        placeholder={placeholder}
        autoFocus={autoFocus}
        aria-invalid={wrong || (shown !== "" && !chosen)}
        onChange={(e) => type(e.target.value)}
        onFocus={() => {
          setText(shown);
          setWithin(true);
        }}
        onBlur={() => setWithin(false)}
        onKeyDown={(e) => {
          if (!take || e.key !== "Enter") return;
          e.preventDefault();
          if (first) take(first);
          else if (!options.length && text.trim()) setEarly(true);
        }}
      />
      <datalist id={list}>
        {options.map((o) => (
          <option key={o.value} value={o.label} />
        ))}
      </datalist>
      {shown !== "" && shown !== chosen?.label && (
        <span className={`typedtold small ${chosen ? "soft" : "brick"}`} role="status">
          {chosen
            ? `→ ${chosen.label}${found.length > 1 ? `, first of ${found.length}` : ""}`
            : "nothing fits"}
        </span>
      )}
    </label>
  );
}

/** Options with all the words typed, those that begin with them first. */
function fitting(options: Props["options"], typed: string): Props["options"] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.length) return [];
  const fit = options.filter((o) => words.every((w) => o.label.toLowerCase().includes(w)));
  const starts = (o: Props["options"][number]) =>
    o.label.toLowerCase().startsWith(typed.trim().toLowerCase()) ? 0 : 1;
  return [...fit].sort((a, b) => starts(a) - starts(b));
}
