import { Button, Checkbox, Input, Popover } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useViewEdits, type Head, type View } from "../../api/lists";
import { Choice } from "../Choice";
import { useRefusal } from "../useRefusal";
import { bodyOf, type ListState } from "./shown";

/** Views of the list: one's own and those that others share; what is seen can be kept as one. */
export function Views({ head, state }: { head: Head; state: ListState }) {
  const [open, setOpen] = useState(false);
  const name = state.view ? state.view.title : "All";
  return (
    <Popover
      trigger="click"
      placement="bottomLeft"
      open={open}
      onOpenChange={setOpen}
      destroyOnHidden
      content={<Menu head={head} state={state} close={() => setOpen(false)} />}
    >
      <Button aria-label={`View: ${name}${state.changed ? ", changed" : ""}`}>
        <span className="cut" style={{ maxWidth: 120 }}>
          {name}
          {state.changed && " *"}
        </span>{" "}
        ▾
      </Button>
    </Popover>
  );
}

function Menu({ head, state, close }: { head: Head; state: ListState; close: () => void }) {
  const edits = useViewEdits(head.name);
  const refuse = useRefusal();
  const [title, setTitle] = useState("");
  const [shared, setShared] = useState(state.view?.mine ? state.view.shared : false);
  const body = () => bodyOf(state.shown, state.find);
  const done = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (bad) {
      refuse("The view was not kept", bad);
    }
  };
  const make = () =>
    done(async () => {
      const known = new Set(head.views.map((v) => v.key));
      const now = await edits.make({ title, shared, body: body() });
      const made = now.find((v) => !known.has(v.key));
      if (made) state.open(made);
      close();
    });
  const keep = (view: View) =>
    done(async () => {
      const now = await edits.change(view, { title: view.title, shared, role: view.role, body: body() });
      state.open(now.find((v) => v.key === view.key) ?? view);
      close();
    });
  return (
    <div className="viewmenu" role="dialog" aria-label="Views">
      <button
        className={`plain item ${state.view ? "" : "now"}`}
        onClick={() => {
          state.open(null);
          close();
        }}
      >
        All
      </button>
      {head.views.map((v) => (
        <div key={v.key} className="row item">
          <button
            className={`plain grow ${v.key === state.view?.key ? "now" : ""}`}
            onClick={() => {
              state.open(v);
              close();
            }}
          >
            {v.title} {!v.mine && <span className="soft small">of {v.owner}</span>}
            {v.mine && v.shared && <span className="soft small">shared</span>}
          </button>
          <Button
            size="small"
            type={v.pinned ? "primary" : "default"}
            aria-pressed={v.pinned}
            aria-label={`Its count in the rail: ${v.title}`}
            title="Its count in the rail"
            onClick={() => void done(() => edits.pin(v, !v.pinned))}
          >
            Pin
          </Button>
          {v.mine && v.shared && head.roles.length > 0 && (
            <Choice
              label={`Role that begins with ${v.title}`}
              hidden
              width={118}
              value={v.role ?? ""}
              change={(role) =>
                void done(() =>
                  edits.change(v, {
                    title: v.title,
                    shared: true,
                    role: role || null,
                    body: v.body as Shapes["ViewBody"],
                  }),
                )
              }
              options={[
                { value: "", label: "first for nobody" },
                ...head.roles.map((r) => ({ value: r, label: `first for ${r}` })),
              ]}
            />
          )}
          {v.mine && (
            <Button
              size="small"
              aria-label={`Delete the view ${v.title}`}
              onClick={() =>
                void done(async () => {
                  await edits.remove(v);
                  if (v.key === state.view?.key) state.open(null);
                })
              }
            >
              ×
            </Button>
          )}
        </div>
      ))}
      <form
        className="apart"
        onSubmit={(e) => {
          e.preventDefault();
          void make();
        }}
      >
        {state.view?.mine && state.changed && (
          <Button block size="small" type="primary" onClick={() => void keep(state.view!)}>
            Keep what is seen in “{state.view.title}”
          </Button>
        )}
        <Input
          size="small"
          aria-label="Name of a new view"
          placeholder={state.view && !state.view.mine ? "Name of a copy of your own" : "Name of a new view"}
          value={title}
          onChange={(e) => setTitle(e.target.value)}
          maxLength={80}
        />
        <div className="row">
          <Checkbox checked={shared} onChange={(e) => setShared(e.target.checked)}>
            shared with all
          </Checkbox>
          <span className="grow" />
          <Button size="small" htmlType="submit" disabled={!title.trim()}>
            Keep as a view
          </Button>
        </div>
      </form>
    </div>
  );
}
