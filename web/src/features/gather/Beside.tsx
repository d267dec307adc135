import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Upload } from "antd";
import { Link } from "react-router";

import { http, need, sendFiles } from "../../api/client";
import { Attached } from "../../kit/Attached";
import { SayIt } from "../../kit/SayIt";
import { useRefusal } from "../../kit/useRefusal";
import { clock, dayName, hours, localDay } from "../../kit/words";
import { useWeek } from "../week/context";

const keyOf = (number: string) => ["orders", number, "beside"];

export function useBeside(number: string) {
  return useQuery({
    queryKey: keyOf(number),
    queryFn: () => need(http.GET("/api/orders/{number}/beside", { params: { path: { number } } })),
  });
}

/**
 * What stands beside a job: who asked for it, what was said of it, its files, what was done on its asset
 * before.
 */
export function Beside({ number }: { number: string }) {
  const { now, can } = useWeek();
  const client = useQueryClient();
  const refuse = useRefusal();
  const found = useBeside(number);
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return null;
  const { requests, notes, files, earlier, printed } = found.data;
  const knows = can("plan") || can("report") || can("edit");
  const after = () => client.invalidateQueries({ queryKey: keyOf(number) });
  const say = async (text: string) => {
    await need(http.POST("/api/orders/{number}/notes", { params: { path: { number } }, body: { text } }));
    await after();
  };
  const attach = async (file: File) => {
    try {
      await sendFiles(`/api/orders/${number}/files`, "file", [file]);
    } catch (bad) {
      refuse(`${file.name} was not attached`, bad);
    }
    await after();
  };
  return (
    <>
      {requests.length > 0 && (
        <section aria-label="Asked for by">
          <h2>Asked for by</h2>
          {requests.map((r) => (
            <p key={r.number} className="item">
              <Link to={`/work/requests?open=${encodeURIComponent(r.number)}`}>{r.number}</Link>{" "}
              <span dir="auto">{r.title}</span>{" "}
              <span className="soft small">
                {r.reporter}, {r.state}
              </span>
            </p>
          ))}
        </section>
      )}
      <section aria-label="Notes and files">
        <h2>Notes and files</h2>
        <Attached files={files} of={`/api/orders/${number}/files`} />
        {notes.map((n) => (
          <p key={n.at + n.text} className="item" dir="auto" style={{ whiteSpace: "pre-wrap" }}>
            {n.text}{" "}
            <span className="soft small">
              {n.by}, {dayName(localDay(n.at, now.timezone))} {clock(n.at, now.timezone)}
            </span>
          </p>
        ))}
        {notes.length + files.length === 0 && <p className="soft">None yet.</p>}
        {knows && (
          <>
            <SayIt label="Note" say={say} placeholder="a note, with your name and the time" />
            <Upload
              multiple
              showUploadList={false}
              beforeUpload={(file) => {
                void attach(file);
                return false;
              }}
            >
              <Button size="small" style={{ marginTop: 8 }}>
                Attach a file …
              </Button>
            </Upload>
          </>
        )}
      </section>
      {printed && (
        <p className="soft small">
          Sheet printed {dayName(localDay(printed, now.timezone))} {clock(printed, now.timezone)}
        </p>
      )}
      {earlier.length > 0 && (
        <section aria-label="Done here before">
          <h2>Done here before</h2>
          {earlier.map((e) => (
            <p key={e.number} className="item">
              <span className="strong">{e.number}</span> <span dir="auto">{e.title}</span>{" "}
              <span className="soft small">
                {dayName(e.raised)} {e.raised.slice(0, 4)}
                {e.hours > 0 ? ` · ${hours(e.hours)}` : ""}
              </span>
            </p>
          ))}
        </section>
      )}
    </>
  );
}
