import { Alert, Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";

import { Problem } from "../../api/client";
import { Differs, type FieldDiffers } from "../../kit/Differs";
import { History } from "../../kit/History";
import { Panel } from "../../kit/Panel";
import { useSites } from "./Sites";
import { useAccountWrites, useRoles, type Account, type HeldRole } from "./useAccounts";

interface Props {
  account: Account | null;
  areas: { key: string; name: string }[];
  close: () => void;
  /** A password that was made, to be handed over. */
  told: (name: string, password: string) => void;
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** An account: made, or its roles, areas and state changed; a new password, its sessions ended. */
export function AccountPanel({ account, areas, close, told }: Props) {
  const all = useRoles();
  const { make, change, fresh, newPassword, takeFactorOff, endSessions } = useAccountWrites();
  const [name, setName] = useState("");
  const [fullName, setFullName] = useState(account?.full_name ?? "");
  const [roles, setRoles] = useState<HeldRole[]>(account?.roles ?? []);
  const [mine, setMine] = useState<string[]>(account?.areas ?? []);
  const sites = useSites();
  const [seen, setSeen] = useState<string[]>(account?.sites ?? []);
  const [base, setBase] = useState(account);
  const [wrong, setWrong] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  const act = async (work: () => Promise<unknown>) => {
    setBusy(true);
    setWrong(null);
    try {
      await work();
    } catch (bad) {
      setWrong(bad as Problem);
    }
    setBusy(false);
  };
  const limit = same(seen, account?.sites ?? []) ? {} : seen.length ? { sites: seen } : { all_sites: true };
  const save = async () => {
    if (!account) return told(fullName, await make({ name, full_name: fullName, roles }));
    await change(account.name, {
      full_name: fullName,
      roles,
      areas: mine,
      revision: base!.revision,
      ...limit,
    });
    close();
  };
  /** What was typed stays; the rest, and the revision, are as they are now. */
  const onTop = () =>
    act(async () => {
      const now = await fresh(account!.name);
      if (fullName === base!.full_name) setFullName(now.full_name);
      if (same(roles, base!.roles)) setRoles(now.roles);
      if (same(mine, base!.areas)) setMine(now.areas);
      setBase(now);
    });
  const held = (role: string) => roles.find((r) => r.role === role);
  const set = (role: string, areas: string[] | null | undefined) =>
    setRoles([...roles.filter((r) => r.role !== role), ...(areas === undefined ? [] : [{ role, areas }])]);
  const options = areas.map((a) => ({ value: a.key, label: a.name }));
  const differs = wrong?.facts.differs as FieldDiffers[] | undefined;
  return (
    <Panel
      close={close}
      title={account ? account.full_name : "New account"}
      width={560}
      unsaved={
        name !== "" ||
        fullName !== (base?.full_name ?? "") ||
        !same(roles, base?.roles ?? []) ||
        !same(mine, base?.areas ?? [])
      }
    >
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(save);
        }}
      >
        <div className="row">
          {!account && (
            <label style={{ width: 170 }}>
              Name to sign in
              <Input
                autoFocus
                aria-label="Name to sign in"
                value={name}
                maxLength={60}
                status={wrong?.field === "name" ? "error" : undefined}
                onChange={(e) => setName(e.target.value)}
              />
            </label>
          )}
          <label className="grow">
            Full name
            <Input
              aria-label="Full name"
              value={fullName}
              maxLength={120}
              status={wrong?.field === "full_name" ? "error" : undefined}
              onChange={(e) => setFullName(e.target.value)}
            />
          </label>
        </div>
        <fieldset className="plain">
          <legend>Roles, and where</legend>
          {all?.roles.map((r) => (
            <div key={r.name} className="row" style={{ alignItems: "start", padding: "4px 0" }}>
              <Checkbox
                style={{ width: 140 }}
                checked={held(r.name) !== undefined}
                onChange={(e) => set(r.name, e.target.checked ? null : undefined)}
              >
                {r.name}
              </Checkbox>
              <span className="grow">
                {held(r.name) && (
                  <Select
                    mode="multiple"
                    size="small"
                    allowClear
                    aria-label={`Areas of the role ${r.name}`}
                    placeholder="everywhere"
                    style={{ width: "100%" }}
                    value={held(r.name)?.areas ?? []}
                    onChange={(v: string[]) => set(r.name, v.length ? v : null)}
                    options={options}
                  />
                )}
                <span className="soft small">{r.rights.map((x) => all.rights[x]).join("; ")}</span>
              </span>
            </div>
          ))}
        </fieldset>
        {account && sites.length > 1 && (
          <label>
            Sites that it sees
            <Select
              mode="multiple"
              allowClear
              aria-label="Sites that it sees"
              placeholder="all sites"
              style={{ width: "100%" }}
              value={seen}
              onChange={setSeen}
              options={sites.map((s) => ({ value: s.key, label: s.name }))}
            />
          </label>
        )}
        {account && (
          <label>
            Areas that the week shows first
            <Select
              mode="multiple"
              allowClear
              aria-label="Areas that the week shows first"
              placeholder="all areas"
              style={{ width: "100%" }}
              value={mine}
              onChange={setMine}
              options={options}
            />
          </label>
        )}
        {differs ? (
          <Differs lines={differs} apply={() => void onTop()} />
        ) : (
          wrong && <Alert type="error" showIcon title="Nothing was changed" description={wrong.message} />
        )}
        <div className="row">
          <Button
            type="primary"
            htmlType="submit"
            loading={busy}
            disabled={!roles.length || !fullName.trim()}
          >
            {account ? "Save" : "Make the account"}
          </Button>
          <Button onClick={close}>Leave it</Button>
        </div>
      </form>
      {account && (
        <>
          <div className="row wrap" style={{ margin: "18px 0" }}>
            <Button
              disabled={busy}
              onClick={() => void act(async () => told(account.full_name, await newPassword(account.name)))}
            >
              Give a new password
            </Button>
            <Button
              disabled={busy || !account.sessions}
              onClick={() => void act(() => endSessions(account.name))}
            >
              End all sessions
            </Button>
            {account.factor && (
              <Button disabled={busy} onClick={() => void act(() => takeFactorOff(account.name))}>
                Take the second factor off
              </Button>
            )}
            <Button
              danger={account.active}
              disabled={busy}
              onClick={() =>
                void act(() => change(account.name, { active: !account.active, revision: account.revision }))
              }
            >
              {account.active ? "Switch off" : "Switch on again"}
            </Button>
          </div>
          <History noun="account" of={[account.name]} />
        </>
      )}
    </Panel>
  );
}
