import { NavLink, Outlet, useOutletContext, useParams } from 'react-router';
import { stages, type Shot, type Stage } from '@june-haze/contract';
import { useShot } from '../api/shots.ts';
import { ProofMark } from '../proof/ProofMark.tsx';
import { StageCommands } from './StageCommands.tsx';
import { ColourFacts } from '../colour/ColourFacts.tsx';
import { TopLine } from './TopLine.tsx';

const titles: Record<Stage, string> = { intake: 'Intake', match: 'Match', build: 'Build', output: 'Output' };

/** The shot that the screen inside the frame is about. */
export const useThisShot = () => useOutletContext<Shot>();

/** The frame of every screen of a shot: path, the track of four proofs, working space and viewing. */
export function ShotFrame() {
  const { shotId } = useParams();
  const { data: shot, error } = useShot(shotId!);
  return (
    <>
      <TopLine title={shot?.name ?? '…'} below facts={shot && <ColourFacts shot={shot} />}>
        <nav className="track" aria-label="Stages">
          {shot &&
            stages.map((stage) => (
              <NavLink
                key={stage}
                to={`/shots/${shot.id}/${stage}`}
                className={({ isActive }) => `stage${isActive ? ' here' : ''}`}
              >
                <span className="strong">{titles[stage]}</span>
                <small>
                  <ProofMark state={shot.proofs[stage].state} />
                  {shot.proofs[stage].figure}
                </small>
              </NavLink>
            ))}
        </nav>
      </TopLine>
      {error && <div className="empty">{error.message}</div>}
      {shot && <StageCommands shotId={shot.id} />}
      {shot && <Outlet context={shot} />}
    </>
  );
}
