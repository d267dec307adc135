import { useQuery } from "@tanstack/react-query";

import { http, need } from "../../api/client";
import { figure, money } from "../../kit/words";

/** What a job costs, planned and actual, and which accounts bear it. */
export function Costs({ number }: { number: string }) {
  const found = useQuery({
    queryKey: ["orders", number, "costs"],
    queryFn: () => need(http.GET("/api/orders/{number}/costs", { params: { path: { number } } })),
  }).data;
  if (!found || (!found.planned && !found.actual)) return null;
  const { currency, planned, actual } = found;
  return (
    <section aria-label="Costs">
      <h2>Costs</h2>
      <p>
        planned {money(planned, currency)}
        {actual !== null && `, ${found.final ? "charged" : "so far"} ${money(actual, currency)}`}
        {actual !== null && found.final && (
          <span className="soft small"> ({money(actual - planned, "")} against the plan)</span>
        )}
      </p>
      {(found.outside > 0 || found.overtime > 0) && (
        <p className="small soft">
          own {money(planned - found.outside - found.parts, "")}
          {found.overtime > 0 && `, of it ${money(found.overtime, "")} for overtime`}
          {found.outside > 0 && `, outside ${money(found.outside, "")}`}
        </p>
      )}
      {(found.parts > 0 || found.parts_used > 0) && (
        <details className="small soft">
          <summary>
            parts {money(found.parts, "")} planned, {money(found.parts_used, "")} handed out
          </summary>
          {found.part_lines.map((li) => (
            <p key={li.name} style={{ margin: 0 }}>
              <span dir="auto">{li.name}</span>: {figure(li.planned)} {li.unit} planned{" "}
              {money(li.planned_cents, "")}, {figure(li.used)} used {money(li.used_cents, "")}
            </p>
          ))}
        </details>
      )}
      {found.charges.map((c) => (
        <p key={c.account} className="small soft">
          {c.account || "no account"}: {money(c.amount, "")}
        </p>
      ))}
    </section>
  );
}
