import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { http, need, type Shapes } from "../../api/client";
import { figure } from "../../kit/words";

/** Parts that fit what is typed, those of an asset first, each with what is free of it. */
export function PartsOffered({
  text,
  asset,
  taken,
  pick,
}: {
  text: string;
  asset?: string;
  taken: string[];
  pick: (c: Shapes["PartChoice"]) => void;
}) {
  const found = useQuery({
    queryKey: ["parts", "choices", text.trim(), asset ?? ""],
    queryFn: () =>
      need(
        http.GET("/api/parts/choices", { params: { query: { text: text.trim(), asset: asset || null } } }),
      ),
    enabled: text.trim() !== "" || Boolean(asset),
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  }).data;
  const shown = (found ?? []).filter((c) => !taken.includes(c.part)).slice(0, text.trim() ? 8 : 5);
  return shown.map((c) => (
    <button
      key={c.part}
      type="button"
      className="plain item row"
      style={{ width: "100%" }}
      onClick={() => pick(c)}
    >
      <span className="grow" dir="auto">
        <span className="strong">{c.part}</span> {c.name}
        {c.of_asset && <span className="soft"> of this asset</span>}
      </span>
      <span className={c.free > 0 ? "" : "ochre"}>
        {c.free > 0 ? `${figure(c.free)} ${c.unit} free` : "◆ none free"}
        {c.coming > 0 && <span className="soft">, {figure(c.coming)} on order</span>}
      </span>
    </button>
  ));
}
