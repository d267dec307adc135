/** What others do to this week, as it happens. */
import { useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { useMemo } from "react";

import type { Overview, Shapes } from "../../api/client";
import { keys, useRefresh } from "../../api/queries";
import type { Handlers } from "../../api/connection";
import { useLive } from "../../app/useLive";
import { answerComes } from "./underWay";

export function useEvents(week: string, me: Shapes["Me"], wanted = true): void {
  const client = useQueryClient();
  const refresh = useRefresh();
  const { message } = App.useApp();
  const handlers = useMemo(
    (): Handlers => ({
      edit: (event) => {
        const body = JSON.parse(event.data) as { edits: number; label: string; by: string };
        const known = client.getQueryData<Overview>(keys.part(week, "overview"))?.edits ?? 0;
        if (body.edits <= known || (body.by === me.full_name && answerComes(week, body.edits))) return;
        void refresh(week, true);
        if (body.by !== me.full_name)
          void message.info({ key: "other", content: `${body.by}: ${body.label}`, duration: 4 });
      },
      build: (event) => {
        const body = JSON.parse(event.data) as { run: number; state: string } & Partial<Shapes["BuildPoint"]>;
        const point = body.value === undefined ? null : (body as unknown as Shapes["BuildPoint"]);
        const held = client.getQueryData<Shapes["BuildShape"] | null>(keys.part(week, "build"));
        if (point && held && held.id === body.run)
          client.setQueryData(keys.part(week, "build"), {
            ...held,
            state: "running",
            waits_for: null,
            progress: [...held.progress, point],
          });
        else void client.invalidateQueries({ queryKey: keys.part(week, "build") });
      },
      tidiness: () => void client.invalidateQueries({ queryKey: keys.part(week, "tidiness") }),
      asks: () => void client.invalidateQueries({ queryKey: keys.part(week, "asks") }),
      records: () => void client.invalidateQueries({ queryKey: keys.week(week) }),
      bound: () => void client.invalidateQueries({ queryKey: keys.part(week, "overview") }),
    }),
    [client, me.full_name, message, refresh, week],
  );
  useLive(week, handlers, wanted);
}
