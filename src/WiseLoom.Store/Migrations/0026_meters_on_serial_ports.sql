-- A meter may be at a serial port of the server: how it is spoken to there, and how its lines are read.

alter table meters add column serial jsonb;
comment on column meters.serial is 'port, speed and signs, and how lines are read; null for a meter on the network or read by eye';
alter table meters add constraint meters_answer_at_one_place check (host is null or serial is null);
alter table meters drop constraint meters_matrix_answers;
alter table meters add constraint meters_matrix_answers check (not matrix or host is not null or serial is not null);
