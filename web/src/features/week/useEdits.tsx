/** Edits of a week: sent with what we had seen, answered with the week as it then stands. */
import { useQueryClient } from "@tanstack/react-query";
import { App, Button } from "antd";
import { useCallback, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { http, need, Problem, type AnyEdit, type Key, type Overview, type Shapes } from "../../api/client";
import { keys, useRefresh } from "../../api/queries";
import { weekBeside } from "../../kit/words";
import { sendingBegins, sendingEnds } from "./underWay";

/** A report of progress; `along` takes earlier tasks with it. */
export type Reported = Omit<Shapes["ProgressForm"], "seen" | "along"> & { along?: boolean };

/** What a refusal offers: the same again in another way. */
type Offer = (bad: Problem) => { label: string; act: () => void } | false;

export function useEdits(week: string, done: (tasks: [string, string][]) => void) {
  const client = useQueryClient();
  const refresh = useRefresh();
  const go = useNavigate();
  const { message, notification } = App.useApp();
  const [waiting, setWaiting] = useState(0);
  const told = useRef(0);
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const seen = useCallback(
    () => client.getQueryData<Overview>(keys.part(week, "overview"))?.edits ?? 0,
    [client, week],
  );

  const run = useCallback(
    async (send: () => Promise<Shapes["Edited"]>, offer?: Offer, next?: string): Promise<boolean> => {
      setWaiting((n) => n + 1);
      sendingBegins(week);
      try {
        // one after another: each is sent with the week as the one before left it, so that it is no stranger
        // to itself
        const mine = last.current.then(send, send);
        last.current = mine;
        const done = await mine;
        client.setQueryData(keys.part(week, "overview"), done.week);
        void refresh(week);
        // a message that is leaving can not be given new words: the one before makes room for a new one
        message.destroy(`edit ${told.current}`);
        told.current += 1;
        if (next) {
          void client.invalidateQueries({ queryKey: keys.week(next) });
          notification.success({
            key: "edit",
            title: done.label,
            placement: "bottomRight",
            duration: 8,
            actions: (
              <Button
                size="small"
                onClick={() => {
                  notification.destroy("edit");
                  go(`/week/${next}/balance`);
                }}
              >
                Open {next}
              </Button>
            ),
          });
        } else if (done.arisen.length && !done.notes.length)
          notification.info({
            key: "edit",
            title: done.label,
            description: done.arisen.map((x) => <p key={x}>{x}</p>),
            placement: "bottomRight",
            duration: 8,
          });
        else if (done.notes.length)
          notification.info({
            key: "edit",
            title: done.label,
            description: <Left notes={done.notes} />,
            placement: "bottomRight",
            duration: 0,
          });
        else
          void message.open({
            key: `edit ${told.current}`,
            type: "success",
            content: done.label,
            duration: 4,
          });
        return true;
      } catch (bad) {
        const stale = bad instanceof Problem && bad.status === 409;
        if (stale) void refresh(week, true);
        const way = bad instanceof Problem && offer?.(bad);
        notification.warning({
          key: "edit",
          title: stale ? "Somebody else was here" : "Nothing was changed",
          description: (bad as Error).message,
          placement: "bottomRight",
          duration: way ? 0 : 8,
          actions: way && (
            <Button
              size="small"
              type="primary"
              onClick={() => {
                notification.destroy("edit");
                way.act();
              }}
            >
              {way.label}
            </Button>
          ),
        });
        return false;
      } finally {
        setWaiting((n) => n - 1);
        if (sendingEnds(week, seen())) void refresh(week, true);
      }
    },
    [client, go, message, notification, refresh, seen, week],
  );

  return useMemo(() => {
    const path = { path: { week } };
    const report = (form: Reported): Promise<boolean> => {
      const send = () =>
        need(
          http.POST("/api/weeks/{week}/progress", {
            params: path,
            body: { along: false, ...form, seen: seen() },
          }),
        );
      return run(
        send,
        (bad) =>
          bad.code === "order" && {
            label: "Take them along",
            act: () => void report({ ...form, along: true }),
          },
      ).then((ok) => {
        if (ok && form.to === "done") done(form.tasks.map(([job, task]) => [job!, task!]));
        return ok;
      });
    };
    const reportAll = (rows: Shapes["TaskReport"][], ended: string | null, along = false): Promise<boolean> =>
      run(
        () =>
          need(
            http.POST("/api/weeks/{week}/reports", {
              params: path,
              body: { rows, ended, along, seen: seen() },
            }),
          ),
        (bad) =>
          bad.code === "order" && {
            label: "Take them along",
            act: () => void reportAll(rows, ended, true),
          },
      ).then((ok) => {
        if (ok) done(rows.filter((r) => r.to === "done").map((r) => [r.job, r.task]));
        return ok;
      });
    const other = (edit: AnyEdit) => {
      if (edit.kind !== "next week") return undefined;
      const monday = client.getQueryData<Overview>(keys.part(week, "overview"))?.days[0] ?? "";
      return weekBeside(week, edit.day && edit.day < monday ? -1 : 1);
    };
    return {
      busy: waiting > 0,
      edit: (edit: AnyEdit) =>
        run(
          () => need(http.POST("/api/weeks/{week}/edits", { params: path, body: { edit, seen: seen() } })),
          undefined,
          other(edit),
        ),
      answer: (key: Key, said: "agreed" | "refused" | null, remark: string) =>
        run(() =>
          need(
            http.POST("/api/weeks/{week}/answers", {
              params: path,
              body: { key, said, remark, seen: seen() },
            }),
          ),
        ),
      answerWindow: (w: Shapes["Window"], said: "agreed" | "refused" | null, remark: string) =>
        run(() =>
          need(
            http.POST("/api/weeks/{week}/window-answers", {
              params: path,
              body: { asset: w.asset, kind: w.kind, start: w.start, said, remark, seen: seen() },
            }),
          ),
        ),
      changeWindow: (form: Omit<Shapes["WindowForm"], "seen">) =>
        run(() =>
          need(http.POST("/api/weeks/{week}/windows", { params: path, body: { ...form, seen: seen() } })),
        ),
      report,
      reportAll: (rows: Shapes["TaskReport"][], ended: string | null) => reportAll(rows, ended),
    };
  }, [client, done, run, seen, waiting, week]);
}

/** What an edit could not do, and why. */
function Left({ notes }: { notes: string[] }) {
  return (
    <>
      <p>What is left, and why:</p>
      <ul className="notes">
        {notes.map((n) => (
          <li key={n}>{n}</li>
        ))}
      </ul>
    </>
  );
}
