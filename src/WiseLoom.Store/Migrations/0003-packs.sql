-- Handover packs: numbered, signed, frozen. Only a share link can be withdrawn.

create table packs (
    id bigint generated always as identity primary key,
    job_id bigint not null references jobs,
    run_id bigint not null references runs,
    version integer not null,
    changes text not null,
    model jsonb not null,
    html text not null,
    pdf bytea,
    signed_by uuid not null references people,
    signed_at timestamptz not null,
    unique (job_id, version)
);

create index packs_by_run on packs (run_id);

create table shares (
    token text primary key check (length(token) >= 32),
    pack_id bigint not null references packs,
    made_by uuid not null references people,
    made_at timestamptz not null default now(),
    withdrawn_at timestamptz
);
create index shares_by_pack on shares (pack_id);

create trigger packs_frozen before update or delete on packs for each row execute function refuse_change();
