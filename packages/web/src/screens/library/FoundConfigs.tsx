import { Button } from 'antd';
import { useNavigate } from 'react-router';
import { useBringInFound, useFoundConfigs } from '../../api/library.ts';

/** Configs that lie in the media folders, offered to be brought in. */
export function FoundConfigs() {
  const { data: found = [] } = useFoundConfigs();
  const bringIn = useBringInFound();
  const navigate = useNavigate();
  if (!found.length) return null;
  return (
    <section aria-label="Found in the media folders">
      <h2>Found in the media folders</h2>
      {found.map(({ place }) => (
        <div key={place} className="found-config">
          <span className="clip" title={place}>
            {place}
          </span>
          <Button
            size="small"
            aria-label={`Bring in ${place}`}
            loading={bringIn.isPending && bringIn.variables === place}
            onClick={() => bringIn.mutate(place, { onSuccess: ({ id }) => void navigate(`/library/${id}`) })}
          >
            Bring in
          </Button>
        </div>
      ))}
    </section>
  );
}
