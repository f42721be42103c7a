import { Button } from 'antd';
import type { ReactNode } from 'react';
import { Link, useLocation, useRouteError } from 'react-router';
import { TopLine } from './TopLine.tsx';

function Page({ title, children }: { title: string; children: ReactNode }) {
  return (
    <>
      <TopLine title={title} below />
      <main className="empty" role="alert">
        {children}
        <p>
          <Link to="/" style={{ textDecoration: 'underline' }}>
            Back to the shelf
          </Link>
        </p>
      </main>
    </>
  );
}

/** An address that leads nowhere. */
export function Unknown() {
  const { pathname } = useLocation();
  return (
    <Page title="No such page">
      Nothing lies at <span className="number">{pathname}</span>.
    </Page>
  );
}

/** A screen that failed: what it said, and the ways on. Nothing that was kept is lost by it. */
export function Broken() {
  const error = useRouteError();
  return (
    <Page title="This screen failed">
      <p>The screen could not be drawn: {error instanceof Error ? error.message : String(error)}</p>
      <p className="quiet">
        What was kept of the shot is kept. Load the page again; if it fails again, go back to the shelf.
      </p>
      <Button onClick={() => window.location.reload()}>Load again</Button>
    </Page>
  );
}
