import { Alert, Button } from "antd";
import { useState, type ReactNode } from "react";

import type { Shapes } from "../../api/client";
import type { Column, ListRow, Sort } from "../../api/lists";
import { useAccounts, useParameters } from "../../api/queries";
import { useKept } from "../../app/address";
import type { Shortcut } from "../../app/keys";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import { AccountPanel } from "./AccountPanel";
import { AccountTabs } from "./AccountTabs";
import { useSites } from "./Sites";
import type { Account, HeldRole } from "./useAccounts";

type Password = { name: string; password: string };

const WHERE = { list: "accounts" };
const HEARD = ["accounts"];
const ORDER: Sort[] = [{ column: "account", down: false }];

/** Who may sign in, with which roles, where. For administrators. */
export function AccountsPage({ me }: { me: Shapes["Me"] }) {
  const page = useListPage(WHERE, ORDER);
  const all = useAccounts(true).data;
  const [opened, setOpened] = useKept("open");
  const [made, setMade] = useState(false);
  const [told, setTold] = useState<Password | null>(null);
  const areas = useParameters().data?.areas ?? [];
  const roles = useRolesInWords(me);
  const account = all?.find((a) => a.name === opened) ?? null;
  const close = () => {
    setMade(false);
    setOpened("");
  };
  const cell = (column: Column, row: ListRow): ReactNode => {
    const of = all?.find((a) => a.name === row.key);
    if (!of) return undefined;
    if (column.name === "roles") return roles(of);
    if (column.name !== "state" || row.cells.state === "may sign in") return undefined;
    return <span className={of.active ? "ochre" : "brick"}>{String(row.cells.state)}</span>;
  };
  const shortcuts: Shortcut[] = [
    { keys: "n", what: "A new account", group: "Accounts", run: () => setMade(true) },
  ];
  return (
    <ListPage
      page={page}
      tabs={<AccountTabs />}
      heard={HEARD}
      name="Accounts"
      noun="account"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      cell={cell}
      bar={
        <Button type="primary" onClick={() => setMade(true)}>
          New account <kbd>N</kbd>
        </Button>
      }
      shortcuts={shortcuts}
      empty={{ title: "No account fits", text: "Take a filter off, or make an account." }}
      side={{
        name: "The account",
        about: told ? told.name : opened,
        shown: told ? (
          <Handed told={told} close={() => setTold(null)} />
        ) : (
          <p className="soft">
            Each person has an account of their own. A role says what somebody may do; it can be given
            everywhere or in some areas alone, and somebody may have several.
          </p>
        ),
      }}
    >
      {(made || account) && (
        <AccountPanel
          key={made ? "" : `${opened} ${account?.revision ?? 0}`}
          account={made ? null : account}
          areas={areas}
          close={close}
          told={(name, password) => {
            setTold({ name, password });
            close();
          }}
        />
      )}
    </ListPage>
  );
}

/** A password that was made, until it is handed over. */
function Handed({ told, close }: { told: Password; close: () => void }) {
  return (
    <Alert
      type="info"
      showIcon
      closable
      onClose={close}
      title={`${told.name} signs in with this password once, and then chooses another`}
      description={
        <>
          <code className="strong">{told.password}</code> It is shown here alone; hand it over now.
        </>
      }
    />
  );
}

/** The roles of an account with their areas, and the sites that it sees where not all. */
function useRolesInWords(me: Shapes["Me"]): (account: Account) => ReactNode {
  const areas = useParameters().data?.areas ?? [];
  const sites = useSites();
  const siteName = (key: string) => sites.find((s) => s.key === key)?.name ?? key;
  /** Areas are known by name at their own site alone. */
  const named = (r: HeldRole, here: boolean) => {
    if (!r.areas) return r.role;
    const names = r.areas.map((k) => (here && areas.find((a) => a.key === k)?.name) || k);
    return `${r.role} (${names.join(", ") || "no area"})`;
  };
  return (account) => {
    const here = !account.sites || account.sites.includes(me.site);
    return (
      <>
        {account.roles.map((r) => named(r, here)).join("; ")}
        {account.sites && <span className="soft"> · at {account.sites.map(siteName).join(", ")}</span>}
      </>
    );
  };
}
