/** Accounts and roles, and one's own password and sessions. */
import { useQuery, useQueryClient } from "@tanstack/react-query";

import { http, need, type Shapes } from "../../api/client";

export type Account = Shapes["AccountShape"];
export type HeldRole = Shapes["HeldRole"];

export function useRoles() {
  return useQuery({
    queryKey: ["roles"],
    queryFn: () => need(http.GET("/api/roles")),
    staleTime: Infinity,
  }).data;
}

export function useAccountWrites() {
  const client = useQueryClient();
  /** The accounts, and what is shown of their list. */
  const again = () => client.invalidateQueries({ predicate: (q) => q.queryKey.includes("accounts") });
  return {
    make: async (form: Shapes["AccountForm"]) => {
      const made = await need(http.POST("/api/accounts", { body: form }));
      await again();
      return made.password;
    },
    change: async (name: string, body: Shapes["AccountChange"]) => {
      const now = await need(http.PUT("/api/accounts/{name}", { params: { path: { name } }, body }));
      client.setQueryData(["accounts"], now);
      await again();
    },
    /** The account as it is now, whatever a form holds. */
    fresh: async (name: string) => {
      const all = await need(http.GET("/api/accounts"));
      return all.find((a) => a.name === name)!;
    },
    newPassword: async (name: string) => {
      const made = await need(http.POST("/api/accounts/{name}/password", { params: { path: { name } } }));
      await again();
      return made.password;
    },
    takeFactorOff: async (name: string) => {
      const now = await need(http.POST("/api/accounts/{name}/factor-off", { params: { path: { name } } }));
      client.setQueryData(["accounts"], now);
      await again();
    },
    endSessions: async (name: string) => {
      await need(http.POST("/api/accounts/{name}/end-sessions", { params: { path: { name } } }));
      await again();
    },
  };
}
