import { useQuery } from "@tanstack/react-query";
import { Button, Spin } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../api/client";
import { useMe } from "../api/queries";
import { localMoment } from "./words";

/** Who changed what of a record when, newest first, field by field. Asked for when it is opened. */
export function History({ noun, of }: { noun: string; of: string[] }) {
  const [open, setOpen] = useState(false);
  return (
    <section>
      <h2>
        <Button
          type="link"
          size="small"
          style={{ padding: 0 }}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {open ? "History" : "Show its history"}
        </Button>
      </h2>
      {open && <Deeds noun={noun} of={of} />}
    </section>
  );
}

function Deeds({ noun, of }: { noun: string; of: string[] }) {
  const [page, setPage] = useState(1);
  const found = useQuery({
    queryKey: ["history", noun, ...of, page],
    queryFn: () =>
      need(http.GET("/api/history/{noun}", { params: { path: { noun }, query: { key: of, page } } })),
    gcTime: 0,
  });
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  if (!found.data.total) return <p className="soft">Nothing was written of it yet.</p>;
  return (
    <>
      <ol className="deeds" aria-label="History">
        {found.data.rows.map((d) => (
          <DeedLines key={d.id} deed={d} />
        ))}
      </ol>
      {found.data.total > 20 && (
        <div className="row">
          <Button size="small" disabled={page === 1} onClick={() => setPage(page - 1)}>
            Newer
          </Button>
          <Button size="small" disabled={page * 20 >= found.data.total} onClick={() => setPage(page + 1)}>
            Older
          </Button>
        </div>
      )}
    </>
  );
}

/** One deed: when, who, what, and a line for each field. */
export function DeedLines({ deed }: { deed: Shapes["DeedShape"] }) {
  const zone = useMe().data?.timezone ?? "UTC";
  return (
    <li>
      <p>
        <span className="strong">{deed.label}</span>
        <span className="soft small">
          {" "}
          · <span dir="auto">{deed.by}</span>, {momentWords(deed.at, zone)}
        </span>
      </p>
      {deed.lines.map((x) => (
        <p key={`${x.record} ${x.label}`} className="small">
          <span className="soft">{x.record ? `${x.record}: ${x.label}` : x.label}</span>{" "}
          {x.before === "–" ? x.after : x.after === "–" ? <s>{x.before}</s> : `${x.before} → ${x.after}`}
        </p>
      ))}
      {deed.more > 0 && <p className="soft small">and {deed.more} more records</p>}
    </li>
  );
}

/** As the site's clock shows it. */
function momentWords(at: string, zone: string): string {
  const local = localMoment(at, zone);
  return `${local.slice(0, 10)} ${local.slice(11, 16)}`;
}
