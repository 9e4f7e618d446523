-- A load test is read as a drop in volts, from which the resistance is worked out.
alter table readings add column volt double precision check (volt > -1e3 and volt < 1e3);
comment on column readings.volt is 'what the meter showed where a drop was read; null for a meter of resistance';
