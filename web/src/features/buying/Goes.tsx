import { Link } from "react-router";

import type { Shapes } from "../../api/client";
import { useStorerooms } from "../parts/useParts";

/** Where what is bought goes: into a storeroom, or straight to its WO. */
export function Goes({
  line,
  week,
}: {
  line: Pick<Shapes["BuyLineDocument"], "storeroom" | "order">;
  week: string;
}) {
  const name = useStorerooms().find((s) => s.value === line.storeroom)?.label ?? line.storeroom;
  if (!line.order) return <>{name ?? "nowhere: its WO is no more"}</>;
  return (
    <>
      straight to <Link to={`/week/${week}/gather?job=${encodeURIComponent(line.order)}`}>{line.order}</Link>
    </>
  );
}
