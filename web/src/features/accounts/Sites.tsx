import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Alert, App, Button, Input } from "antd";
import { useState } from "react";

import { http, need, type Problem } from "../../api/client";
import { useRefusal } from "../../kit/useRefusal";

const SITES = ["sites"];

export function useSites() {
  return useQuery({ queryKey: SITES, queryFn: () => need(http.GET("/api/sites")) }).data ?? [];
}

const EMPTY = { key: "", name: "", timezone: Intl.DateTimeFormat().resolvedOptions().timeZone };

/** The sites of the installation; another one is made here. */
export function Sites() {
  const sites = useSites();
  const client = useQueryClient();
  const refuse = useRefusal();
  const { message } = App.useApp();
  const [form, setForm] = useState<typeof EMPTY | null>(null);
  const [wrong, setWrong] = useState<Problem | null>(null);
  const make = async () => {
    try {
      client.setQueryData(SITES, await need(http.POST("/api/sites", { body: form! })));
      setForm(null);
      setWrong(null);
    } catch (bad) {
      setWrong(bad as Problem);
    }
  };
  const share = async () => {
    try {
      await need(http.POST("/api/sites/shared-crafts"));
      void message.success("Crafts and tools of this site are known at all others now.");
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  const field = (name: keyof typeof EMPTY, label: string, width: number) => (
    <label style={{ width }}>
      {label}
      <Input
        aria-label={label}
        value={form![name]}
        status={wrong?.field === name ? "error" : undefined}
        onChange={(e) => setForm({ ...form!, [name]: e.target.value })}
      />
    </label>
  );
  return (
    <section style={{ maxWidth: 620, marginTop: 26 }}>
      <h2>Sites</h2>
      <p className="soft">
        Each site has its own areas, assets, people, work, weeks and set-up, and nothing of one is seen at
        another. Accounts are shared, and say which sites they see.
      </p>
      <table className="list" aria-label="Sites">
        <thead>
          <tr>
            <th>Name</th>
            <th>In addresses</th>
            <th>Time zone</th>
          </tr>
        </thead>
        <tbody>
          {sites.map((s) => (
            <tr key={s.key}>
              <td>{s.name}</td>
              <td>{s.key}</td>
              <td>{s.timezone}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {form ? (
        <form
          style={{ marginTop: 12 }}
          onSubmit={(e) => {
            e.preventDefault();
            void make();
          }}
        >
          <div className="row wrap" style={{ alignItems: "end" }}>
            {field("name", "Name of the site", 200)}
            {field("key", "In addresses", 130)}
            {field("timezone", "Time zone", 170)}
          </div>
          {wrong && <Alert type="error" showIcon title={wrong.message} style={{ marginTop: 10 }} />}
          <div className="row" style={{ marginTop: 10 }}>
            <Button type="primary" htmlType="submit" disabled={!form.key || !form.name}>
              Make the site
            </Button>
            <Button onClick={() => setForm(null)}>Leave it</Button>
          </div>
        </form>
      ) : (
        <div className="row" style={{ marginTop: 10 }}>
          <Button onClick={() => setForm(EMPTY)}>New site</Button>
          <Button onClick={() => void share()}>Share this site's crafts and tools</Button>
        </div>
      )}
    </section>
  );
}
