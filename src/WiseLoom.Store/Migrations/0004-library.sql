-- What the shop knows beside its jobs: families, device types, synonyms, and the pinout book.

-- A family or device type is stored as a loom file writes it.
create table families (
    id text primary key check (length(id) between 1 and 60),
    body jsonb not null check (jsonb_typeof(body) = 'object' and body ->> 'id' = id),
    version integer not null default 1,
    changed_by uuid not null references people,
    changed_at timestamptz not null default now()
);

create table device_types (
    id text primary key check (length(id) between 1 and 60),
    body jsonb not null check (jsonb_typeof(body) = 'object' and body ->> 'id' = id)
);

-- One row: groups of phrases that mean the same.
create table synonyms (
    id boolean primary key default true check (id),
    groups jsonb not null check (jsonb_typeof(groups) = 'array'),
    version integer not null default 1
);
insert into synonyms (groups) values ('[]');

create table sheets (
    id bigint generated always as identity primary key,
    title text not null check (length(title) between 1 and 120),
    source text not null check (source in ('factory-drawing', 'supplier-sheet', 'traced', 'word-of-mouth')),
    source_note text not null check (length(source_note) <= 400),
    connectors jsonb not null check (jsonb_typeof(connectors) = 'array'),
    lines jsonb not null check (jsonb_typeof(lines) = 'array'),
    version integer not null default 1,
    made_by uuid not null references people,
    changed_by uuid not null references people,
    changed_at timestamptz not null default now()
);

-- Every earlier version stays: an edit is never lost.
create table sheet_versions (
    sheet_id bigint not null references sheets,
    version integer not null,
    title text not null,
    source text not null,
    source_note text not null,
    connectors jsonb not null,
    lines jsonb not null,
    changed_by uuid not null references people,
    changed_at timestamptz not null,
    primary key (sheet_id, version)
);

-- Somebody vouches for what a line says; a line that says something else later is not vouched for by it.
create table confirmations (
    key uuid primary key,
    event_order bigint not null unique default nextval('run_event_order'),
    sheet_id bigint not null references sheets,
    connector text not null,
    cavity text not null,
    function text not null,
    how text not null check (how in ('print', 'loom', 'running')),
    made_by uuid not null references people,
    made_at timestamptz not null default now()
);
create index confirmations_by_sheet on confirmations (sheet_id, event_order);

-- Decisions about loose wires; the last one for a cavity holds.
create table loose_wires (
    key uuid primary key,
    event_order bigint not null unique default nextval('run_event_order'),
    sheet_id bigint not null references sheets,
    connector text not null,
    cavity text not null,
    decision text not null check (decision in ('keep-long', 'keep-insulated', 'cut-back', 'to-ground', 'none')),
    label text not null check (length(label) <= 28),
    length_mm double precision not null check (length_mm between 0 and 100000),
    note text not null check (length(note) <= 400),
    made_by uuid not null references people,
    made_at timestamptz not null default now()
);
comment on column loose_wires.decision is 'none: taken back';
create index loose_wires_by_sheet on loose_wires (sheet_id, connector, event_order);

create trigger sheet_versions_append_only before update or delete on sheet_versions for each row execute function refuse_change();
create trigger confirmations_append_only before update or delete on confirmations for each row execute function refuse_change();
create trigger loose_wires_append_only before update or delete on loose_wires for each row execute function refuse_change();
