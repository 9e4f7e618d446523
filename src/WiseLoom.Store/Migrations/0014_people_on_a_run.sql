-- Who stands where in a run, when they were last seen there, and which connectors they took.

alter table run_positions add column seen_at timestamptz not null default now();
alter table run_positions add column takes text[] not null default '{}';
comment on column run_positions.takes is 'refs of connectors whose steps this person does';
