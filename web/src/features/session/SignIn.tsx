import { Alert, Button, Input } from "antd";
import { useState, type FormEvent } from "react";

import { http, need } from "../../api/client";
import { useTitle } from "../../app/title";

export function SignIn({ done }: { done: () => void }) {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const [asked, setAsked] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  useTitle("Sign in");
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const got = await need(
        http.POST("/api/session", { body: { name, password, code: asked ? code : null } }),
      );
      setWrong(null);
      if ("code_needed" in got) setAsked(true);
      else done();
    } catch (bad) {
      setWrong((bad as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <main>
      <form className="signin" onSubmit={submit}>
        <div className="row" style={{ marginBottom: 18 }}>
          <img src="/icon.svg" alt="" width={34} />
          <div>
            <h1>Nundine</h1>
            <p className="soft">The week that your crews can work</p>
          </div>
        </div>
        <label>
          Name
          <Input value={name} onChange={(e) => setName(e.target.value)} autoFocus autoComplete="username" />
        </label>
        <label style={{ display: "block", margin: "12px 0" }}>
          Password
          <Input.Password
            value={password}
            onChange={(e) => setPassword(e.target.value)}
            autoComplete="current-password"
          />
        </label>
        {asked && (
          <label style={{ display: "block", margin: "12px 0" }}>
            The six digits that your telephone shows now
            <Input
              value={code}
              onChange={(e) => setCode(e.target.value)}
              autoFocus
              inputMode="numeric"
              autoComplete="one-time-code"
            />
          </label>
        )}
        {wrong && <Alert type="error" title={wrong} style={{ marginBottom: 12 }} />}
        <Button
          type="primary"
          htmlType="submit"
          block
          loading={busy}
          disabled={!name || !password || (asked && !code)}
        >
          Sign in
        </Button>
      </form>
    </main>
  );
}
