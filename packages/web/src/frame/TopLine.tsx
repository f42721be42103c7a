import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { RoomSettings } from '../room/RoomSettings.tsx';
import { Mark } from './Mark.tsx';

/** The thin line at the top of every screen: mark, path, what belongs in the middle, and the facts at the right. */
export function TopLine({
  title,
  below = false,
  children,
  facts,
}: {
  title: string;
  /** Below the shelf: the path leads back to it. */
  below?: boolean;
  children?: ReactNode;
  facts?: ReactNode;
}) {
  return (
    <header className="topline">
      <div className="path">
        <Mark />
        {below && (
          <>
            <Link to="/">Shelf</Link>
            <span className="quiet">›</span>
          </>
        )}
        <h1 className="strong clip" style={{ margin: 0, fontSize: 13 }}>
          {title}
        </h1>
      </div>
      {children ?? <span />}
      <div className="facts">
        {facts}
        <RoomSettings />
      </div>
    </header>
  );
}
