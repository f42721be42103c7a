import { useQuery } from '@tanstack/react-query';
import { App, AutoComplete, Modal } from 'antd';
import { jobListSchema, shotSchema } from '@june-haze/contract';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { request } from '../../api/request.ts';

/** Makes a shot of a job file: one of those beside outputs, or any in the media folders by its name. */
export function FromJob({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [place, setPlace] = useState('');
  const [reading, setReading] = useState(false);
  const { message } = App.useApp();
  const navigate = useNavigate();
  const { data } = useQuery({
    queryKey: ['jobs'],
    enabled: open,
    staleTime: 0,
    queryFn: () => request(jobListSchema, '/jobs'),
  });
  const make = async () => {
    setReading(true);
    try {
      const shot = await request(shotSchema, '/jobs', 'POST', { place });
      shot.notices.forEach((n) => void message.warning(n, 8));
      onClose();
      setPlace('');
      await navigate(`/shots/${shot.id}/build`);
    } catch (error) {
      void message.error((error as Error).message, 8);
    } finally {
      setReading(false);
    }
  };
  return (
    <Modal
      title="Shot from a job file"
      open={open}
      onCancel={onClose}
      okText="Make shot"
      okButtonProps={{ disabled: place.trim() === '', loading: reading }}
      onOk={make}
      width={520}
    >
      <p className="quiet" style={{ marginTop: 0 }}>
        Its sources must lie in the media folders. The job itself stays as it is.
      </p>
      <AutoComplete
        style={{ width: '100%' }}
        aria-label="Job file"
        placeholder="output/landing/landing.job.json"
        value={place}
        onChange={setPlace}
        // What is typed whole needs no list over the button.
        options={(data?.jobs ?? []).filter((j) => j !== place && j.includes(place)).map((value) => ({ value }))}
      />
    </Modal>
  );
}
