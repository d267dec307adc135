import { Button } from "antd";

import { Typed } from "./Typed";

export const keysOf = (cell: string): string[] =>
  cell
    .split(";")
    .map((key) => key.trim())
    .filter(Boolean);

/**
 * Several of what there is, in a cell with semicolons between: typed one after another, taken off one by one.
 */
export function Picked({
  label,
  group,
  options,
  cell,
  change,
  wrong,
  placeholder = "type a part of its name, then Enter",
}: {
  label: string;
  /** What they are together. */
  group: string;
  options: { value: string; label: string }[];
  cell: string;
  change: (cell: string) => void;
  wrong?: boolean;
  placeholder?: string;
}) {
  const named = keysOf(cell);
  const shown = (key: string) => options.find((o) => o.value === key)?.label ?? key;
  return (
    <div className="stack picked" role="group" aria-label={group}>
      <Typed
        key={named.length}
        label={label}
        options={options.filter((o) => !named.includes(o.value))}
        value={null}
        change={() => undefined}
        take={(key) => change([...named, key].join("; "))}
        placeholder={placeholder}
        wrong={wrong}
      />
      {named.length > 0 && (
        <span className="row wrap small">
          {named.map((key) => (
            <span key={key} className="row" style={{ gap: 2 }}>
              {shown(key)}
              <Button
                size="small"
                type="text"
                aria-label={`Take ${shown(key)} off`}
                onClick={() => change(named.filter((n) => n !== key).join("; "))}
              >
                ×
              </Button>
            </span>
          ))}
        </span>
      )}
    </div>
  );
}
