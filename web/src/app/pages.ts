/** Pages that are loaded when they are first looked at. */
import type { QueryClient } from "@tanstack/react-query";
import { lazy } from "react";

import { askAhead } from "../api/queries";
import { base } from "../api/site";
import { SCREEN_FILES } from "../features/week/screens";
import type { Step } from "../features/week/steps";

const weekPage = () => import("../features/week/WeekPage").then((m) => ({ default: m.WeekPage }));
export const WeekPage = lazy(weekPage);
export const ListsPage = lazy(() =>
  import("../features/lists/ListsPage").then((m) => ({ default: m.ListsPage })),
);
export const RequestsPage = lazy(() =>
  import("../features/requests/RequestsPage").then((m) => ({ default: m.RequestsPage })),
);
export const PlansPage = lazy(() =>
  import("../features/plans/PlansPage").then((m) => ({ default: m.PlansPage })),
);
export const DeskPage = lazy(() =>
  import("../features/desk/DeskPage").then((m) => ({ default: m.DeskPage })),
);
export const ServicesPage = lazy(() =>
  import("../features/preventive/ServicesPage").then((m) => ({ default: m.ServicesPage })),
);
export const ForecastPage = lazy(() =>
  import("../features/preventive/ForecastPage").then((m) => ({ default: m.ForecastPage })),
);
export const MetersPage = lazy(() =>
  import("../features/preventive/MetersPage").then((m) => ({ default: m.MetersPage })),
);
export const ShutdownsPage = lazy(() =>
  import("../features/preventive/ShutdownsPage").then((m) => ({ default: m.ShutdownsPage })),
);
export const DonePage = lazy(() =>
  import("../features/preventive/DonePage").then((m) => ({ default: m.DonePage })),
);
export const StorekeeperPage = lazy(() =>
  import("../features/buying/StorekeeperPage").then((m) => ({ default: m.StorekeeperPage })),
);
export const ToBuyPage = lazy(() =>
  import("../features/buying/BuyingPages").then((m) => ({ default: m.ToBuyPage })),
);
export const BuyRequestsPage = lazy(() =>
  import("../features/buying/BuyingPages").then((m) => ({ default: m.BuyRequestsPage })),
);
export const PurchasesPage = lazy(() =>
  import("../features/buying/BuyingPages").then((m) => ({ default: m.PurchasesPage })),
);
export const PartsPage = lazy(() =>
  import("../features/parts/PartsPage").then((m) => ({ default: m.PartsPage })),
);
export const PartsListPage = lazy(() =>
  import("../features/parts/PartsListPage").then((m) => ({ default: m.PartsListPage })),
);
export const StoreroomsPage = lazy(() =>
  import("../features/parts/StoreroomsPage").then((m) => ({ default: m.StoreroomsPage })),
);
export const ReportPage = lazy(() =>
  import("../features/requests/ReportPage").then((m) => ({ default: m.ReportPage })),
);
export const SetupPage = lazy(() =>
  import("../features/setup/SetupPage").then((m) => ({ default: m.SetupPage })),
);
export const AccountsPage = lazy(() =>
  import("../features/accounts/AccountsPage").then((m) => ({ default: m.AccountsPage })),
);
export const BesideAccounts = lazy(() =>
  import("../features/accounts/AccountTabs").then((m) => ({ default: m.BesideAccounts })),
);
export const SignInRules = lazy(() =>
  import("../features/accounts/Rules").then((m) => ({ default: m.Rules })),
);
export const AllSites = lazy(() => import("../features/accounts/Sites").then((m) => ({ default: m.Sites })));
export const OwnPage = lazy(() =>
  import("../features/accounts/OwnPage").then((m) => ({ default: m.OwnPage })),
);
export const AuditPage = lazy(() =>
  import("../features/audit/AuditPage").then((m) => ({ default: m.AuditPage })),
);
export const ImportPage = lazy(() =>
  import("../features/imports/ImportPage").then((m) => ({ default: m.ImportPage })),
);

/**
 * Scripts and figures of the week in the address are asked for at once, beside the question who is signed in.
 */
export function startAhead(client: QueryClient) {
  const [, week, step] = /^\/week\/([^/]+)\/([a-z]+)/.exec(location.pathname.slice(base.length)) ?? [];
  if (!week || !step) return;
  askAhead(client, week);
  void weekPage();
  if (step in SCREEN_FILES) void SCREEN_FILES[step as Step]();
}
