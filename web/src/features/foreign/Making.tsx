import { Button, Checkbox, Select } from "antd";

import type { Shapes } from "../../api/client";
import { count } from "../../kit/words";
import type { Mapping, Opened } from "./useForeign";

type Makeable = Mapping["make"][number];

const KINDS: { kind: Makeable; many: string }[] = [
  { kind: "asset", many: "assets" },
  { kind: "area", many: "areas" },
  { kind: "craft", many: "crafts" },
];

interface Props {
  preview: Shapes["ForeignPreview"];
  opened: Opened;
  mapping: Mapping;
  change: (mapping: Mapping) => void;
}

/** What the file names and nobody here knows: made on the way in, if one says so, and listed before. */
export function Making({ preview, opened, mapping, change }: Props) {
  const make = mapping.make ?? [];
  const unknown = (kind: Makeable) => preview.words.filter((w) => w.field === kind).length;
  const kinds = KINDS.filter(({ kind }) => make.includes(kind) || unknown(kind) > 0);
  if (kinds.length === 0) return null;
  const flip = (kind: Makeable, on: boolean) =>
    change({ ...mapping, make: on ? [...make, kind] : make.filter((k) => k !== kind) });
  const area = mapping.defaults.area;
  return (
    <section className="box" aria-label="New here">
      <p className="strong">New here</p>
      {kinds.map(({ kind, many }) => {
        const its = preview.made.filter((m) => m.kind === kind);
        return (
          <div key={kind}>
            <Checkbox checked={make.includes(kind)} onChange={(e) => flip(kind, e.target.checked)}>
              {make.includes(kind)
                ? `${count(its.length, kind)} will be made`
                : `make the ${unknown(kind)} unknown ${many}`}
            </Checkbox>
            {its.length > 0 && (
              <p className="small soft" style={{ paddingLeft: 24 }}>
                {its
                  .slice(0, 8)
                  .map(
                    (m) => (m.name === m.key ? m.key : `${m.key} ${m.name}`) + (m.area ? ` (${m.area})` : ""),
                  )
                  .join(", ")}
                {its.length > 8 && ` and ${its.length - 8} more`}
              </p>
            )}
          </div>
        );
      })}
      {make.includes("asset") && (
        <div className="row" style={{ marginTop: 6 }}>
          <span className="grow small">
            {mapping.columns.area ? "Area where a row names none" : "New assets lie in"}
          </span>
          <Select
            size="small"
            aria-label="Area of new assets"
            style={{ width: 120 }}
            allowClear
            value={area}
            placeholder="choose"
            onChange={(v?: string) => {
              const rest = { ...mapping.defaults };
              delete rest.area;
              change({ ...mapping, defaults: v ? { ...rest, area: v } : rest });
            }}
            options={(opened.meanings.area ?? []).map((v) => ({ value: v, label: v }))}
          />
        </div>
      )}
      {make.length > 0 && !make.includes("area") && opened.meanings.area?.length === 0 && (
        <Button size="small" onClick={() => flip("area", true)}>
          Make areas too
        </Button>
      )}
    </section>
  );
}
