import { Alert, Button, Spin } from "antd";
import { useState } from "react";

import { useAccounts, useMe, useParameters } from "../../api/queries";
import { useTitle } from "../../app/title";
import { count } from "../../kit/words";
import { AccountPanel } from "./AccountPanel";
import { Rules } from "./Rules";
import { Sites, useSites } from "./Sites";
import type { Account, HeldRole } from "./useAccounts";

/** Who may sign in, with which roles, where. For administrators. */
export function AccountsPage() {
  useTitle("Accounts");
  const found = useAccounts(true);
  const areas = useParameters().data?.areas ?? [];
  const sites = useSites();
  const me = useMe().data;
  const [open, setOpen] = useState<string | null>(null);
  const [told, setTold] = useState<{ name: string; password: string } | null>(null);
  if (found.error) return <main className="page brick">{found.error.message}</main>;
  if (!found.data)
    return (
      <main className="page">
        <Spin />
      </main>
    );
  /** Areas are known by name at their own site alone. */
  const named = (r: HeldRole, here: boolean) => {
    if (!r.areas) return r.role;
    const names = r.areas.map((k) => (here && areas.find((a) => a.key === k)?.name) || k);
    return `${r.role} (${names.join(", ") || "no area"})`;
  };
  const isHere = (a: Account) => !a.sites || (me?.site !== undefined && a.sites.includes(me.site));
  const siteName = (key: string) => sites.find((s) => s.key === key)?.name ?? key;
  const account = found.data.find((a) => a.name === open) ?? null;
  return (
    <main className="page">
      <div className="row">
        <h1 className="grow">Accounts</h1>
        <Button type="primary" onClick={() => setOpen("")}>
          New account
        </Button>
      </div>
      <p className="soft">
        Each person has an account of their own. A role says what somebody may do; it can be given everywhere
        or in some areas alone, and somebody may have several.
      </p>
      {told && (
        <Alert
          type="info"
          showIcon
          closable
          style={{ margin: "10px 0" }}
          onClose={() => setTold(null)}
          title={`${told.name} signs in with this password once, and then chooses another`}
          description={
            <>
              <code className="strong">{told.password}</code> It is shown here alone; hand it over now.
            </>
          }
        />
      )}
      <table className="list" aria-label="Accounts" style={{ marginTop: 10 }}>
        <colgroup>
          <col style={{ width: "13%" }} />
          <col style={{ width: "20%" }} />
          <col />
          <col style={{ width: "17%" }} />
          <col style={{ width: "13%" }} />
        </colgroup>
        <thead>
          <tr>
            <th>Sign-in</th>
            <th>Name</th>
            <th>Roles</th>
            <th>State</th>
            <th>Open sessions</th>
          </tr>
        </thead>
        <tbody>
          {found.data.map((a) => (
            <tr key={a.name} onClick={() => setOpen(a.name)} className={a.name === open ? "chosen" : ""}>
              <td>
                <button className="plain link" aria-label={`Change ${a.full_name}`}>
                  {a.name}
                </button>
              </td>
              <td dir="auto">{a.full_name}</td>
              <td className="whole">
                {a.roles.map((r) => named(r, isHere(a))).join("; ")}
                {a.sites && <span className="soft"> · at {a.sites.map(siteName).join(", ")}</span>}
              </td>
              <td>
                {!a.active ? (
                  <span className="brick">switched off</span>
                ) : a.one_time ? (
                  <span className="ochre">has not signed in yet</span>
                ) : (
                  "may sign in"
                )}
                {a.factor && <span className="soft"> · second factor</span>}
              </td>
              <td>{a.sessions ? count(a.sessions, "session") : "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Rules />
      <Sites />
      {open !== null && (open === "" || account) && (
        <AccountPanel
          key={`${open} ${account?.revision ?? 0}`}
          account={account}
          areas={areas}
          close={() => setOpen(null)}
          told={(name, password) => {
            setTold({ name, password });
            setOpen(null);
          }}
        />
      )}
    </main>
  );
}
