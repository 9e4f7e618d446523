import { useEffect, useState } from 'react';

export interface LiveValue {
  channel: string;
  pin: string;
  volts: number;
  value: number | null;
  unit: string;
}

/** Live values of a controller as they come; null before the first, and again when the line is cut. */
export function useLive(job: number, controller: string): { values: LiveValue[] | null; cut: boolean } {
  const [values, setValues] = useState<LiveValue[] | null>(null);
  const [cut, setCut] = useState(false);
  useEffect(() => {
    const stream = new EventSource(`/api/jobs/${job}/power-up/live?controller=${encodeURIComponent(controller)}`);
    stream.addEventListener('live', (message: MessageEvent<string>) => {
      setCut(false);
      setValues(JSON.parse(message.data) as LiveValue[]);
    });
    stream.addEventListener('error', () => {
      setCut(true);
      setValues(null);
    });
    return () => stream.close();
  }, [job, controller]);
  return { values, cut };
}
