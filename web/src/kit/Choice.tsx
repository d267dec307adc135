interface Props {
  label: string;
  /** The label is for those who hear the page; a heading says it to those who see it. */
  hidden?: boolean;
  width?: number;
  value: string;
  change: (value: string) => void;
  options: readonly (string | { value: string; label: string })[];
}

/** One of a few words; the browser's own list, which the first letter of a word chooses from. */
export function Choice({ label, hidden = false, width, value, change, options }: Props) {
  const all = options.map((o) => (typeof o === "string" ? { value: o, label: o } : o));
  const known = all.some((o) => o.value === value) ? all : [...all, { value, label: value }];
  return (
    <label style={{ width }}>
      {!hidden && label}
      <select
        className="plainselect"
        style={{ width: "100%", height: hidden ? 24 : 32 }}
        aria-label={label}
        value={value}
        onChange={(e) => change(e.target.value)}
      >
        {known.map((o) => (
          <option key={o.value} value={o.value}>
            {o.label}
          </option>
        ))}
      </select>
    </label>
  );
}
