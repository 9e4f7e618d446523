-- A run is one list of events, numbered without gaps under the lock of its own row. What it comes to stands beside it, and changes with it.

create table plans (
    hash text primary key check (length(hash) = 64),
    body jsonb not null
);
comment on column plans.hash is 'SHA-256 of the plan as its writer wrote it: a plan never changes, so it is read once for each hash';

-- A plan from before the shop had limits was made with the usual ones.
alter table runs add column plan_hash text references plans;
with whole as (
    select id, case when plan -> 'copper' is null or jsonb_typeof(plan -> 'copper') = 'null'
                    then plan || '{"copper":{"lengthShare":0.02,"lengthMm":20,"ambientK":3,"leastOfNominal":0.96}}' else plan end as plan
    from runs),
     hashed as (select id, plan, encode(sha256(convert_to(plan::text, 'UTF8')), 'hex') as hash from whole),
     kept as (insert into plans (hash, body) select distinct on (hash) hash, plan from hashed returning hash)
select count(*) from kept;
update runs set plan_hash = encode(sha256(convert_to((case when plan -> 'copper' is null or jsonb_typeof(plan -> 'copper') = 'null'
                    then plan || '{"copper":{"lengthShare":0.02,"lengthMm":20,"ambientK":3,"leastOfNominal":0.96}}' else plan end)::text, 'UTF8')), 'hex');
alter table runs alter column plan_hash set not null;
alter table runs drop column plan;

alter table runs add column last_event bigint not null default 0;
alter table runs add column summary jsonb;
alter table runs add column set_aside boolean not null default false;
comment on column runs.summary is 'what the events come to, as the core counts it; null only until the first start after this migration';

create table run_events (
    run_id bigint not null references runs,
    number bigint not null check (number > 0),
    key uuid not null unique,
    body jsonb not null,
    kind text not null generated always as (body ->> 'kind') stored,
    made_by uuid not null references people,
    made_at timestamptz not null,
    stored_at timestamptz not null default now(),
    primary key (run_id, number)
);
comment on column run_events.made_at is 'when it was done, by the clock of whoever did it';

with told as (
    select r.id as run_id, r.started_at - interval '1 second' as at, 0::bigint as place, gen_random_uuid() as key, r.started_by as by, r.started_at as made,
           jsonb_build_object('kind', 'carried', 'step', c.step, 'fromRun', c.from_run_id, 'fromStep', c.from_step, 'words', c.words) as body
    from carried_steps c join runs r on r.id = c.run_id
    union all
    select d.run_id, d.stored_at, d.event_order, d.key, d.taken_by, d.taken_at,
           jsonb_build_object('kind', 'reading', 'step', d.step, 'reading', jsonb_strip_nulls(jsonb_build_object('ohms', d.ohm, 'volts', d.volt)), 'verdict', d.verdict,
                              'fromMeter', d.source = 'meter', 'meter', m.name, 'bearing', 'stands')
    from readings d join meters m on m.id = d.meter_id
    union all
    select s.run_id, s.skipped_at, s.event_order, s.key, s.skipped_by, s.skipped_at, jsonb_build_object('kind', 'skip', 'step', s.step, 'reason', s.reason)
    from skips s
    union all
    select f.run_id, f.logged_at, 0, f.key, f.logged_by, f.logged_at,
           jsonb_build_object('kind', 'fault', 'fault', f.number, 'step', f.step, 'words', f.seen, 'reading', f.reading_key, 'ranked', f.ranked)
    from faults f
    union all
    select f.run_id, e.made_at, e.event_order, e.key, e.made_by, e.made_at, jsonb_build_object('kind', e.kind, 'fault', f.number, e.kind, e.body)
    from fault_events e join faults f on f.id = e.fault_id
    union all
    select k.run_id, k.signed_at, 0, gen_random_uuid(), k.signed_by, k.signed_at, jsonb_build_object('kind', 'signed', 'version', k.version)
    from packs k
    union all
    select r.id, n.started_at, 9223372036854775807, gen_random_uuid(), n.started_by, n.started_at, jsonb_build_object('kind', 'set-aside')
    from runs r cross join lateral (select * from runs where job_id = r.job_id and id > r.id order by id limit 1) n),
     placed as (select *, row_number() over (partition by run_id order by (body ->> 'kind' = 'set-aside'), at, place) as number from told)
insert into run_events (run_id, number, key, body, made_by, made_at, stored_at)
-- Whoever took a reading then is trusted to have known of all that came before it.
select run_id, number, key, case when body ->> 'kind' = 'reading' then body || jsonb_build_object('seen', number - 1) else body end, by, made, at
from placed;

update runs r set last_event = e.last, set_aside = e.aside
from (select run_id, max(number) as last, bool_or(kind = 'set-aside') as aside from run_events group by run_id) e
where e.run_id = r.id;
create unique index runs_one_current on runs (job_id) where not set_aside;

alter table packs disable trigger packs_frozen;
alter table packs add column event bigint;
update packs k set event = e.number from run_events e where e.run_id = k.run_id and e.kind = 'signed' and (e.body ->> 'version')::int = k.version;
alter table packs alter column event set not null;
alter table packs add foreign key (run_id, event) references run_events (run_id, number);
alter table packs enable trigger packs_frozen;
comment on column packs.event is 'the signature among the events of its run: what has a greater number was not known when it was signed';

create trigger run_events_append_only before update or delete on run_events for each row execute function refuse_change();

drop table carried_steps, fault_events, faults, skips, readings;
drop function tell_job;

-- One name, one loom: of two that an earlier version let in, the later is told apart by its number.
alter table loom_revisions disable trigger revisions_immutable;
update loom_revisions v set revision = v.revision || ' (' || v.id || ')'
where exists (select from loom_revisions o where o.job_id = v.job_id and o.revision = v.revision and o.id < v.id);
alter table loom_revisions enable trigger revisions_immutable;
create unique index loom_revisions_names on loom_revisions (job_id, revision);

-- One open link for each pack; of several, the newest is the one that was shown.
update shares s set withdrawn_at = now()
where withdrawn_at is null and exists (select from shares o where o.pack_id = s.pack_id and o.withdrawn_at is null and (o.made_at, o.token) > (s.made_at, s.token));
create unique index shares_one_open on shares (pack_id) where withdrawn_at is null;
