import { useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button, Checkbox, InputNumber } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { useRefusal } from "../../kit/useRefusal";

const RULES = ["sign-in rules"];

/** What the site asks of those who sign in. */
export function Rules() {
  const found = useQuery({ queryKey: RULES, queryFn: () => need(http.GET("/api/sign-in-rules")) }).data;
  return found ? <Form key={JSON.stringify(found)} found={found} /> : null;
}

function Form({ found }: { found: Shapes["SignInRules"] }) {
  const [form, setForm] = useState(found);
  const client = useQueryClient();
  const refuse = useRefusal();
  const { message } = App.useApp();
  const save = async () => {
    try {
      client.setQueryData(RULES, await need(http.PUT("/api/sign-in-rules", { body: form })));
      void message.success("Saved.");
    } catch (bad) {
      refuse("Not saved", bad);
    }
  };
  return (
    <form
      className="stack"
      style={{ maxWidth: 620, marginTop: 26 }}
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <h2>What is asked of those who sign in</h2>
      <div className="row">
        <span>A session ends when nobody was at it for</span>
        <InputNumber
          aria-label="Minutes until an idle session ends"
          min={5}
          max={720}
          precision={0}
          value={form.idle}
          onChange={(v) => setForm({ ...form, idle: v ?? form.idle })}
        />
        <span>minutes</span>
      </div>
      <div>
        <Checkbox
          checked={form.factor_of_administrators}
          onChange={(e) => setForm({ ...form, factor_of_administrators: e.target.checked })}
        >
          Administrators need a second factor
        </Checkbox>
      </div>
      <div className="row">
        <Button htmlType="submit" disabled={JSON.stringify(form) === JSON.stringify(found)}>
          Save
        </Button>
      </div>
    </form>
  );
}
