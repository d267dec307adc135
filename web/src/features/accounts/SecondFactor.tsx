import { useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Input } from "antd";
import { useState } from "react";

import { http, need, type Problem, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";

/** A second factor of one's own: set up by a picture and a code, taken off by a code. */
export function SecondFactor({ me }: { me: Shapes["Me"] }) {
  const client = useQueryClient();
  const [offer, setOffer] = useState<Shapes["FactorOffer"] | null>(null);
  const [code, setCode] = useState("");
  const [wrong, setWrong] = useState<Problem | null>(null);
  const act = async (work: () => Promise<unknown>) => {
    setWrong(null);
    try {
      await work();
      setCode("");
    } catch (bad) {
      setWrong(bad as Problem);
    }
  };
  const begin = () => act(async () => setOffer(await need(http.POST("/api/own/factor/offer"))));
  const confirm = () =>
    act(async () => {
      await need(http.PUT("/api/own/factor", { body: { secret: offer!.secret, code } }));
      setOffer(null);
      await client.invalidateQueries({ queryKey: keys.me });
    });
  const takeOff = () =>
    act(async () => {
      await need(http.POST("/api/own/factor-off", { body: { code } }));
      await client.invalidateQueries({ queryKey: keys.me });
    });
  const asks = offer !== null || me.factor;
  return (
    <form
      className="stack"
      style={{ maxWidth: 380, marginTop: 28 }}
      onSubmit={(e) => {
        e.preventDefault();
        void (me.factor ? takeOff() : offer ? confirm() : begin());
      }}
    >
      <h2>Second factor</h2>
      {me.factor_wanted && (
        <Alert
          type="warning"
          showIcon
          title="This site asks administrators for a second factor. Nundine opens after this."
        />
      )}
      <p className="soft">
        {me.factor
          ? "You sign in with your password and six digits that your telephone shows. " +
            "To take this off, type the digits of now."
          : "Whoever learns your password can not sign in without your telephone. " +
            "It takes any application that shows codes by time."}
      </p>
      {offer && (
        <>
          <p>Read this picture with that application, or type the secret below; then type the six digits.</p>
          <div
            role="img"
            aria-label="The secret as a picture"
            style={{ background: "#fff", width: "fit-content" }}
            dangerouslySetInnerHTML={{ __html: offer.picture }}
          />
          <code className="small">{offer.secret.replace(/(.{4})/g, "$1 ").trim()}</code>
        </>
      )}
      {asks && (
        <label>
          Six digits
          <Input
            style={{ width: 140, display: "block" }}
            inputMode="numeric"
            autoComplete="one-time-code"
            status={wrong?.field === "code" ? "error" : undefined}
            value={code}
            onChange={(e) => setCode(e.target.value)}
          />
        </label>
      )}
      {wrong && <Alert type="error" showIcon title="Nothing was changed" description={wrong.message} />}
      <div className="row">
        <Button htmlType="submit" type={offer ? "primary" : "default"} disabled={asks && !code}>
          {me.factor ? "Take it off" : offer ? "Confirm" : "Set one up"}
        </Button>
      </div>
    </form>
  );
}
