import { NavLink } from "react-router";

/** Who may sign in, and what holds for all of them. */
export function AccountTabs() {
  return (
    <nav className="tabs" aria-label="Accounts">
      <NavLink end to="/accounts">
        Accounts
      </NavLink>
      <NavLink to="/accounts/rules">Signing in</NavLink>
      <NavLink to="/accounts/sites">Sites</NavLink>
    </nav>
  );
}

/** A page beside the accounts. */
export function BesideAccounts({ children }: { children: React.ReactNode }) {
  return (
    <main className="lists">
      <AccountTabs />
      <div className="page">{children}</div>
    </main>
  );
}
