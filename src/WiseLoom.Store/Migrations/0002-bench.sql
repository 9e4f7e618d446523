-- Runs at the bench. All that happened is kept as rows that are only ever added.

create sequence run_event_order;

create table runs (
    id bigint generated always as identity primary key,
    job_id bigint not null references jobs,
    revision_id bigint not null references loom_revisions,
    meter_id bigint not null references meters,
    plan jsonb not null,
    started_by uuid not null references people,
    started_at timestamptz not null default now()
);
create index runs_by_job on runs (job_id, id desc);

-- Where each person last stood; the one row here that is overwritten.
create table run_positions (
    run_id bigint not null references runs,
    person uuid not null references people,
    step integer not null,
    primary key (run_id, person)
);

create table readings (
    key uuid primary key,
    event_order bigint not null unique default nextval('run_event_order'),
    run_id bigint not null references runs,
    step integer not null check (step > 0),
    ohm double precision check (ohm >= -1e3 and ohm < 1e13),
    verdict text not null check (verdict in ('pass', 'fail', 'cant-tell')),
    source text not null check (source in ('typed', 'meter')),
    meter_id bigint not null references meters,
    taken_by uuid not null references people,
    taken_at timestamptz not null,
    stored_at timestamptz not null default now()
);
comment on column readings.ohm is 'null: the meter showed over range';
create index readings_by_run on readings (run_id, event_order);

create table skips (
    key uuid primary key,
    event_order bigint not null unique default nextval('run_event_order'),
    run_id bigint not null references runs,
    step integer not null check (step > 0),
    reason text not null check (length(reason) between 3 and 400),
    skipped_by uuid not null references people,
    skipped_at timestamptz not null default now()
);
create index skips_by_run on skips (run_id, event_order);

create table faults (
    id bigint generated always as identity primary key,
    key uuid not null unique,
    run_id bigint not null references runs,
    number integer not null,
    step integer not null,
    seen text not null check (length(seen) between 1 and 1000),
    reading_key uuid references readings,
    ranked jsonb not null,
    logged_by uuid not null references people,
    logged_at timestamptz not null default now(),
    unique (run_id, number)
);

create table fault_events (
    key uuid primary key,
    event_order bigint not null unique default nextval('run_event_order'),
    fault_id bigint not null references faults,
    kind text not null check (kind in ('cause', 'fix')),
    body jsonb not null,
    made_by uuid not null references people,
    made_at timestamptz not null default now()
);
create index fault_events_by_fault on fault_events (fault_id, event_order);

create function refuse_change() returns trigger language plpgsql as $$
begin
    raise exception '% is append-only: a correction is a new row', tg_table_name using errcode = 'integrity_constraint_violation';
end $$;

create function tell_job() returns trigger language plpgsql as $$
declare
    job bigint;
begin
    if tg_table_name = 'fault_events' then
        select r.job_id into job from runs r join faults f on f.run_id = r.id where f.id = new.fault_id;
    else
        select r.job_id into job from runs r where r.id = new.run_id;
    end if;
    perform pg_notify('wise_loom_job', job::text);
    return null;
end $$;

create trigger readings_append_only before update or delete on readings for each row execute function refuse_change();
create trigger skips_append_only before update or delete on skips for each row execute function refuse_change();
create trigger faults_append_only before update or delete on faults for each row execute function refuse_change();
create trigger fault_events_append_only before update or delete on fault_events for each row execute function refuse_change();
create trigger revisions_immutable before update or delete on loom_revisions for each row execute function refuse_change();
create trigger readings_tell after insert on readings for each row execute function tell_job();
create trigger skips_tell after insert on skips for each row execute function tell_job();
create trigger faults_tell after insert on faults for each row execute function tell_job();
create trigger fault_events_tell after insert on fault_events for each row execute function tell_job();
