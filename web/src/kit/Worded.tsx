import { useId } from "react";
import { Input } from "antd";

/** Words of one's own, with those offered that stand somewhere already. */
export function Worded({
  label,
  used,
  value,
  change,
  wrong,
  placeholder,
  width,
}: {
  label: string;
  used: string[];
  value: string;
  change: (value: string) => void;
  wrong?: boolean;
  placeholder?: string;
  width?: number;
}) {
  const list = useId();
  return (
    <label className="grow" style={width ? { maxWidth: width } : undefined}>
      {label}
      <Input
        aria-label={label}
        list={list}
        autoComplete="off"
        status={wrong ? "error" : undefined}
        value={value}
        placeholder={placeholder}
        onChange={(e) => change(e.target.value)}
      />
      <datalist id={list}>
        {used.map((word) => (
          <option key={word} value={word} />
        ))}
      </datalist>
    </label>
  );
}
