import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Alert, App, Button, Input } from "antd";
import { useState } from "react";

import { http, need, type Problem, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { useTitle } from "../../app/title";
import { LookForm } from "./LookForm";
import { SecondFactor } from "./SecondFactor";

/**
 * One's own account: the password, and where one is signed in. With a password that was given once nothing
 * else comes first.
 */
export function OwnPage({ me }: { me: Shapes["Me"] }) {
  useTitle("Your account");
  return (
    <main className="page">
      <h1 dir="auto">{me.full_name}</h1>
      <p className="soft">
        {me.name}, {me.role}
      </p>
      {!(me.factor_wanted && !me.one_time) && <Password me={me} />}
      {!me.one_time && <SecondFactor me={me} />}
      {!me.one_time && !me.factor_wanted && <LookForm />}
      {!me.one_time && !me.factor_wanted && <Sessions />}
    </main>
  );
}

function Password({ me }: { me: Shapes["Me"] }) {
  const client = useQueryClient();
  const { message } = App.useApp();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const [again, setAgain] = useState("");
  const [wrong, setWrong] = useState<Problem | null>(null);
  const differs = again !== "" && again !== fresh;
  const save = async () => {
    setWrong(null);
    try {
      await need(http.PUT("/api/own/password", { body: { old, new: fresh } }));
      setOld("");
      setFresh("");
      setAgain("");
      void message.success("Your password is changed. You are signed out everywhere else.");
      await client.invalidateQueries({ queryKey: keys.me });
    } catch (bad) {
      setWrong(bad as Problem);
    }
  };
  return (
    <form
      className="stack"
      style={{ maxWidth: 380, marginTop: 18 }}
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <h2>{me.one_time ? "Choose a password of your own" : "Password"}</h2>
      {me.one_time && <p>The one that you signed in with was good for once. Nundine opens after this.</p>}
      <label>
        The password that you have now
        <Input.Password
          autoComplete="current-password"
          status={wrong?.field === "old" ? "error" : undefined}
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
      </label>
      <label>
        A new one, of at least 10 characters
        <Input.Password
          autoComplete="new-password"
          status={wrong?.field === "password" ? "error" : undefined}
          value={fresh}
          onChange={(e) => setFresh(e.target.value)}
        />
      </label>
      <label>
        The new one once more
        <Input.Password
          autoComplete="new-password"
          status={differs ? "error" : undefined}
          value={again}
          onChange={(e) => setAgain(e.target.value)}
        />
      </label>
      {differs && <p className="brick">The two are not the same.</p>}
      {wrong && <Alert type="error" showIcon title="Nothing was changed" description={wrong.message} />}
      <div className="row">
        <Button type="primary" htmlType="submit" disabled={!old || !fresh || again !== fresh}>
          Change the password
        </Button>
      </div>
    </form>
  );
}

function Sessions() {
  const client = useQueryClient();
  const found = useQuery({
    queryKey: ["own", "sessions"],
    queryFn: () => need(http.GET("/api/own/sessions")),
  }).data;
  const end = async () => {
    await need(http.DELETE("/api/own/sessions"));
    await client.invalidateQueries({ queryKey: ["own"] });
  };
  return (
    <section style={{ marginTop: 28, maxWidth: 560 }}>
      <h2>Where you are signed in</h2>
      <table className="list" aria-label="Sessions">
        <thead>
          <tr>
            <th>Since</th>
            <th>From</th>
            <th>Ends</th>
          </tr>
        </thead>
        <tbody>
          {found?.map((s) => (
            <tr key={s.id} style={{ cursor: "default" }}>
              <td>{s.began ? new Date(s.began).toLocaleString("en-GB") : "–"}</td>
              <td>
                {s.address || "–"}
                {s.this && <span className="soft"> · this one</span>}
              </td>
              <td>{new Date(s.expires).toLocaleString("en-GB")}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button style={{ marginTop: 10 }} disabled={(found?.length ?? 0) < 2} onClick={() => void end()}>
        End all others
      </Button>
    </section>
  );
}
