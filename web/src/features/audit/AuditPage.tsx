import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Input, Pagination, Select, Spin } from "antd";

import { http, need } from "../../api/client";
import { useAccounts } from "../../api/queries";
import { useKept } from "../../app/address";
import { useTitle } from "../../app/title";
import { Download } from "../../kit/Download";
import { DeedLines } from "../../kit/History";
import { Day } from "../../kit/When";
import { count } from "../../kit/words";

/** Everything that was written, by whom, what and when; sign-ins too. For administrators. */
export function AuditPage() {
  useTitle("Audit");
  const [account, setAccount] = useKept("by", "");
  const [noun, setNoun] = useKept("noun", "");
  const [field, setField] = useKept("field", "");
  const [text, setText] = useKept("text", "");
  const [first, setFirst] = useKept("from", "");
  const [last, setLast] = useKept("to", "");
  const [page, setPage] = useKept("page", "1");
  const accounts = useAccounts(true).data ?? [];
  const nouns = useQuery({
    queryKey: ["audit", "choices"],
    queryFn: () => need(http.GET("/api/audit/choices")),
    staleTime: Infinity,
  }).data?.nouns;
  const asked = {
    ...(account && { account }),
    ...(noun && { noun }),
    ...(field && { field }),
    ...(text && { text }),
    ...(first && { first }),
    ...(last && { last }),
  };
  const found = useQuery({
    queryKey: ["audit", asked, page],
    queryFn: () => need(http.GET("/api/audit", { params: { query: { ...asked, page: Number(page) } } })),
    placeholderData: keepPreviousData,
  });
  const choose = (set: (value: string) => void) => (value: string | undefined) => {
    set(value ?? "");
    setPage("1");
  };
  const table = `/api/audit.csv?${new URLSearchParams(asked as Record<string, string>)}`;
  return (
    <main className="page">
      <h1>Audit</h1>
      <p className="soft">
        Whatever was written, and by whom; sign-ins too, those that failed among them. Nothing is ever taken
        out of here.
      </p>
      <div className="row wrap" style={{ alignItems: "end", margin: "10px 0" }}>
        <label style={{ width: 180 }}>
          Person
          <Select
            allowClear
            aria-label="Person"
            placeholder="anybody"
            style={{ width: "100%" }}
            value={account || undefined}
            onChange={choose(setAccount)}
            options={accounts.map((a) => ({ value: a.name, label: a.full_name }))}
          />
        </label>
        <label style={{ width: 150 }}>
          Kind of record
          <Select
            allowClear
            showSearch
            aria-label="Kind of record"
            placeholder="any"
            style={{ width: "100%" }}
            value={noun || undefined}
            onChange={(v) => {
              choose(setNoun)(v);
              setField("");
            }}
            options={Object.keys(nouns ?? {}).map((n) => ({ value: n, label: n }))}
          />
        </label>
        <label style={{ width: 170 }}>
          Field
          <Select
            allowClear
            showSearch
            aria-label="Field"
            placeholder={noun ? "any" : "choose a kind first"}
            disabled={!noun}
            style={{ width: "100%" }}
            value={field || undefined}
            onChange={choose(setField)}
            options={Object.entries(nouns?.[noun] ?? {}).map(([value, label]) => ({ value, label }))}
          />
        </label>
        <Day label="From" empty placeholder="–" width={150} value={first} change={choose(setFirst)} />
        <Day label="To" empty placeholder="–" width={150} value={last} change={choose(setLast)} />
        <label className="grow" style={{ minWidth: 160 }}>
          Record or words
          <Input
            allowClear
            aria-label="Record or words"
            placeholder="WO-1042, window, …"
            defaultValue={text}
            onPressEnter={(e) => choose(setText)(e.currentTarget.value)}
            onBlur={(e) => choose(setText)(e.currentTarget.value)}
          />
        </label>
        <Download href={table}>CSV</Download>
      </div>
      {found.error && <p className="brick">{found.error.message}</p>}
      {!found.data && !found.error && <Spin />}
      {found.data && (
        <>
          <p className="soft">{count(found.data.total, "deed")}</p>
          {found.data.total === 0 && <p>Nothing like this was written.</p>}
          <ol className="deeds" aria-label="Audit">
            {found.data.rows.map((d) => (
              <DeedLines key={d.id} deed={d} />
            ))}
          </ol>
          <div className="row">
            <Pagination
              size="small"
              current={Number(page)}
              pageSize={50}
              total={found.data.total}
              showSizeChanger={false}
              onChange={(n) => setPage(String(n))}
            />
            {Object.keys(asked).length > 0 && (
              <Button
                size="small"
                onClick={() => {
                  for (const set of [setAccount, setNoun, setField, setText, setFirst, setLast]) set("");
                  setPage("1");
                }}
              >
                Show all
              </Button>
            )}
          </div>
        </>
      )}
    </main>
  );
}
