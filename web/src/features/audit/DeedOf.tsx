import { useQuery } from "@tanstack/react-query";
import { Spin } from "antd";

import { http, need } from "../../api/client";
import { DeedLines } from "../../kit/History";

/** What a deed changed, field by field. */
export function DeedOf({ number }: { number: string }) {
  const found = useQuery({
    queryKey: ["audit", number],
    queryFn: () => need(http.GET("/api/audit/{number}", { params: { path: { number: Number(number) } } })),
  });
  if (found.error) return <p className="brick">{found.error.message}</p>;
  return (
    <section>
      <h2>What it changed</h2>
      {found.data ? (
        <ol className="deeds" aria-label="What it changed">
          <DeedLines deed={found.data} />
        </ol>
      ) : (
        <Spin />
      )}
    </section>
  );
}
