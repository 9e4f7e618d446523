-- Looms that are being written, merges that make them, and proof that a rework carries over.

-- text, not jsonb: a draft is stored with every change and only ever read whole.
create table drafts (
    id bigint generated always as identity primary key,
    job_id bigint not null references jobs,
    base_revision_id bigint references loom_revisions,
    document text not null,
    version integer not null default 1,
    opened_by uuid not null references people,
    changed_by uuid not null references people,
    changed_at timestamptz not null default now(),
    closed text check (closed in ('released', 'put-away')),
    revision_id bigint references loom_revisions,
    check ((closed = 'released') = (revision_id is not null) or closed is null)
);
-- Written with every pause of somebody who types: the quicker of the two ways to pack it.
alter table drafts alter column document set compression lz4;
create unique index drafts_one_open on drafts (job_id) where closed is null;
create index drafts_by_job on drafts (job_id, id desc);

alter table loom_revisions add column base_revision_id bigint references loom_revisions;

create table carried_steps (
    run_id bigint not null references runs,
    step integer not null check (step > 0),
    from_run_id bigint not null references runs,
    from_step integer not null check (from_step > 0),
    words text not null,
    primary key (run_id, step)
);

create table merges (
    id bigint generated always as identity primary key,
    title text not null check (length(title) between 1 and 120),
    job_id bigint not null references jobs,
    left_side jsonb not null,
    right_side jsonb not null,
    decisions jsonb not null,
    version integer not null default 1,
    work jsonb,
    draft_id bigint references drafts,
    made_by uuid not null references people,
    made_at timestamptz not null default now()
);
create index merges_by_job on merges (job_id, id desc);

create table merge_ticks (
    key uuid primary key,
    event_order bigint not null unique default nextval('run_event_order'),
    merge_id bigint not null references merges,
    item text not null check (length(item) between 1 and 200),
    done boolean not null,
    made_by uuid not null references people,
    made_at timestamptz not null default now()
);
create index merge_ticks_by_merge on merge_ticks (merge_id, event_order);

create trigger carried_append_only before update or delete on carried_steps for each row execute function refuse_change();
create trigger merge_ticks_append_only before update or delete on merge_ticks for each row execute function refuse_change();

create function tell_draft_job() returns trigger language plpgsql as $$
begin
    perform pg_notify('wise_loom_job', new.job_id::text);
    return null;
end $$;
-- Not with every change of what it says: that would have every page of the job look again while somebody types.
create trigger drafts_tell after insert or update of closed on drafts for each row execute function tell_draft_job();
