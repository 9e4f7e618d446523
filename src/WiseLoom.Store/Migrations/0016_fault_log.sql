create index run_events_faults on run_events (stored_at desc, key) where kind = 'fault';
create index run_events_of_faults on run_events (run_id, kind, number desc) where kind in ('cause', 'fix');
