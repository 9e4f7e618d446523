-- Somebody on a run may stand at a check of its power-up.

alter table run_positions add column check_id text;
comment on column run_positions.check_id is 'the check of the power-up at which this person stands; null while they are at the bench';
