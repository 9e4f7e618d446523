-- Meters are the shop's to enter: with figures of their own, an address, a calibration, and whether they switch the probes themselves.

alter table meters drop constraint meters_profile_check;
alter table meters add constraint meters_profile_check check (profile in ('bench-four-wire', 'hand-two-wire', 'own'));
alter table meters add column figures jsonb;
alter table meters add constraint meters_own_figures check ((profile = 'own') = (figures is not null));
alter table meters add column matrix boolean not null default false;
comment on column meters.matrix is 'closes the way to both places by itself; otherwise hands hold the probes';
alter table meters add column calibrated date;
alter table meters add column calibration_due date;
alter table meters add column retired boolean not null default false;
alter table meters add column version integer not null default 1;
update meters set matrix = host is not null;
alter table meters add constraint meters_matrix_answers check (not matrix or host is not null);
create index run_events_checks on run_events (run_id, number) where kind = 'check';
