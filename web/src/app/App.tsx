import { Dropdown, Spin } from "antd";
import { Suspense, useEffect, type ReactNode } from "react";
import { Link, Navigate, NavLink, Route, Routes } from "react-router";

import { http, type Shapes } from "../api/client";
import { useMe } from "../api/queries";
import { base, goTo, site } from "../api/site";
import { SignIn } from "../features/session/SignIn";
import { Glyph } from "../kit/Glyph";
import { setLook, type Look } from "../kit/look";
import { mondayOf, writeAround } from "../kit/words";
import { NoConnection } from "./NoConnection";
import {
  AccountsPage,
  AllSites,
  AuditPage,
  BesideAccounts,
  BuyRequestsPage,
  DeskPage,
  DonePage,
  ForecastPage,
  ImportPage,
  ListsPage,
  MetersPage,
  OwnPage,
  PartsListPage,
  PartsPage,
  PlansPage,
  PurchasesPage,
  ReportPage,
  RequestsPage,
  ServicesPage,
  SetupPage,
  ShutdownsPage,
  SignInRules,
  StorekeeperPage,
  StoreroomsPage,
  ToBuyPage,
  WeekPage,
} from "./pages";
import { Pinned } from "./Pinned";
import { useTitle } from "./title";
import { useLive } from "./useLive";

export function App() {
  const me = useMe();
  if (me.isPending) return <Waiting />;
  if (me.data === null) return <SignIn done={() => me.refetch()} />;
  if (me.error)
    return (
      <div className="empty">
        <h2>Nundine does not answer</h2>
        <p>{me.error.message}</p>
      </div>
    );
  if (!me.data.sites.some((s) => s.key === (site ?? me.data!.site))) return <NoSite me={me.data} />;
  if (!site && (me.data.sites.length > 1 || !me.data.first)) {
    goTo(me.data.site, location.pathname + location.search);
    return <Waiting />;
  }
  if (me.data.one_time || me.data.factor_wanted)
    return (
      <Suspense fallback={<Waiting />}>
        <OwnPage me={me.data} />
      </Suspense>
    );
  return <SignedIn me={me.data} leave={() => me.refetch()} />;
}

function Waiting() {
  return (
    <div className="empty">
      <Spin />
    </div>
  );
}

function NotTheirs({ me }: { me: Shapes["Me"] }) {
  useTitle("Not for your role");
  return (
    <main className="page">
      <div className="empty">
        <h2>This screen is not for your role, {me.role}</h2>
        <p>
          A scheduler or an administrator can open it.{" "}
          <Link to={`/week/${me.week}/${me.step ?? "gather"}`}>To the week</Link>
        </p>
      </div>
    </main>
  );
}

/** Nobody is told whether a site is there that is not theirs. */
function NoSite({ me }: { me: Shapes["Me"] }) {
  useTitle("No such site");
  return (
    <main className="page">
      <div className="empty">
        <h2>There is no such site</h2>
        {me.sites.map((s) => (
          <p key={s.key}>
            <a href={`/at/${s.key}/`}>To {s.name}</a>
          </p>
        ))}
      </div>
    </main>
  );
}

/** The site that one is at, and the way to others. */
function Sites({ me }: { me: Shapes["Me"] }) {
  const present = me.sites.find((s) => s.key === me.site);
  return (
    <Dropdown
      trigger={["click"]}
      menu={{
        selectedKeys: [me.site],
        items: me.sites.map((s) => ({ key: s.key, label: s.name, onClick: () => goTo(s.key) })),
      }}
    >
      <button className="plain site" aria-label={`Site: ${present?.name ?? me.site}`}>
        {present?.name}
      </button>
    </Dropdown>
  );
}

const NOTHING = {};

/** A screen of no week, which still knows whether Nundine answers. */
function Listening({ children }: { children: ReactNode }) {
  useLive(null, NOTHING);
  return children;
}

function SignedIn({ me, leave }: { me: Shapes["Me"]; leave: () => void }) {
  const { theme, size, decimals, days, weeks } = me.look as Look;
  writeAround(mondayOf(me.week));
  useEffect(() => setLook({ theme, size, decimals, days, weeks }), [theme, size, decimals, days, weeks]);
  const start = `/week/${me.week}/${me.step ?? localStorage.getItem("step") ?? "gather"}`;
  const out = async () => {
    await http.DELETE("/api/session");
    leave();
  };
  return (
    <div className="shell">
      <NoConnection />
      <nav className="rail" aria-label="Sections">
        <img src="/icon.svg" alt="Nundine" />
        {me.sites.length > 1 && <Sites me={me} />}
        <NavLink to={start} className={() => (location.pathname.startsWith(`${base}/week`) ? "active" : "")}>
          <Glyph name="week" />
          Week
        </NavLink>
        <NavLink
          to={me.rights.includes("plan") ? "/work/requests" : "/work/report"}
          className={() => (location.pathname.startsWith(`${base}/work`) ? "active" : "")}
        >
          <Glyph name="requests" />
          {me.rights.includes("plan") ? "Work" : "Requests"}
        </NavLink>
        <NavLink
          to="/preventive/services"
          className={() => (location.pathname.startsWith(`${base}/preventive`) ? "active" : "")}
        >
          <Glyph name="preventive" />
          Preventive
        </NavLink>
        <NavLink
          to="/parts/stock"
          className={() => (location.pathname.startsWith(`${base}/parts`) ? "active" : "")}
        >
          <Glyph name="parts" />
          Parts
        </NavLink>
        <NavLink
          to="/lists/work orders"
          className={() => (location.pathname.startsWith(`${base}/lists`) ? "active" : "")}
        >
          <Glyph name="lists" />
          Lists
        </NavLink>
        {me.rights.includes("import") && (
          <NavLink to="/files">
            <Glyph name="files" />
            Files
          </NavLink>
        )}
        {me.rights.includes("manage") && (
          <NavLink to="/setup">
            <Glyph name="setup" />
            Set-up
          </NavLink>
        )}
        {me.rights.includes("administer") && (
          <NavLink to="/accounts">
            <Glyph name="accounts" />
            Accounts
          </NavLink>
        )}
        {me.rights.includes("administer") && (
          <NavLink to="/audit">
            <Glyph name="audit" />
            Audit
          </NavLink>
        )}
        <Pinned week={me.week} />
        <span className="grow" />
        <NavLink to="/own" title={`${me.full_name}, ${me.role}`}>
          <Glyph name="own" />
          You
        </NavLink>
        <button className="plain" onClick={out} title={`${me.full_name}, ${me.role}`}>
          <Glyph name="leave" />
          Sign out
        </button>
      </nav>
      <Suspense fallback={<Waiting />}>
        <Routes>
          <Route path="/week/:week/:step" element={<WeekPage me={me} />} />
          <Route path="/work/requests" element={<RequestsPage me={me} />} />
          <Route
            path="/work/desk"
            element={
              <Listening>
                <DeskPage me={me} />
              </Listening>
            }
          />
          <Route path="/preventive/services" element={<ServicesPage me={me} />} />
          <Route
            path="/preventive/forecast"
            element={
              <Listening>
                <ForecastPage me={me} />
              </Listening>
            }
          />
          <Route path="/preventive/meters" element={<MetersPage me={me} />} />
          <Route
            path="/preventive/shutdowns"
            element={
              <Listening>
                <ShutdownsPage me={me} />
              </Listening>
            }
          />
          <Route
            path="/preventive/done"
            element={
              <Listening>
                <DonePage me={me} />
              </Listening>
            }
          />
          <Route path="/parts/stock" element={<PartsPage me={me} />} />
          <Route path="/parts/picking" element={<PartsListPage key="picking" me={me} of="picking" />} />
          <Route path="/parts/kits" element={<PartsListPage key="kits" me={me} of="kits" />} />
          <Route path="/parts/day" element={<StorekeeperPage me={me} />} />
          <Route path="/parts/buying" element={<ToBuyPage me={me} />} />
          <Route path="/parts/requests" element={<BuyRequestsPage me={me} />} />
          <Route path="/parts/orders" element={<PurchasesPage me={me} />} />
          <Route path="/parts/movements" element={<PartsListPage key="movements" me={me} of="movements" />} />
          <Route path="/parts/lists" element={<PartsListPage key="lists" me={me} of="lists" />} />
          <Route
            path="/parts/storerooms"
            element={
              <Listening>
                <StoreroomsPage me={me} />
              </Listening>
            }
          />
          <Route path="/work/plans" element={<PlansPage me={me} />} />
          <Route
            path="/work/report"
            element={
              <Listening>
                <ReportPage />
              </Listening>
            }
          />
          <Route
            path="/lists/:list"
            element={
              <Listening>
                <ListsPage me={me} />
              </Listening>
            }
          />
          <Route
            path="/setup"
            element={
              me.rights.includes("manage") ? (
                <Listening>
                  <SetupPage />
                </Listening>
              ) : (
                <NotTheirs me={me} />
              )
            }
          />
          <Route
            path="/files"
            element={
              me.rights.includes("import") ? (
                <Listening>
                  <ImportPage />
                </Listening>
              ) : (
                <NotTheirs me={me} />
              )
            }
          />
          <Route
            path="/accounts"
            element={
              me.rights.includes("administer") ? (
                <Listening>
                  <AccountsPage me={me} />
                </Listening>
              ) : (
                <NotTheirs me={me} />
              )
            }
          />
          {(["rules", "sites"] as const).map((what) => (
            <Route
              key={what}
              path={`/accounts/${what}`}
              element={
                me.rights.includes("administer") ? (
                  <Listening>
                    <BesideAccounts>{what === "rules" ? <SignInRules /> : <AllSites />}</BesideAccounts>
                  </Listening>
                ) : (
                  <NotTheirs me={me} />
                )
              }
            />
          ))}
          <Route
            path="/own"
            element={
              <Listening>
                <OwnPage me={me} />
              </Listening>
            }
          />
          <Route
            path="/audit"
            element={
              me.rights.includes("administer") ? (
                <Listening>
                  <AuditPage me={me} />
                </Listening>
              ) : (
                <NotTheirs me={me} />
              )
            }
          />
          <Route path="*" element={<Navigate to={start} replace />} />
        </Routes>
      </Suspense>
    </div>
  );
}
