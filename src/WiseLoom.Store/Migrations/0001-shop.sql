-- People, jobs and the looms they are about.

create table people (
    id uuid primary key,
    sign_in text not null unique check (sign_in = lower(sign_in) and length(sign_in) between 2 and 60),
    name text not null check (length(name) between 1 and 120),
    role text not null check (role in ('technician', 'lead')),
    password_hash text not null
);

-- Keys that sign the session cookies: shared, so that any number of application processes can stand side by side.
create table cookie_keys (
    name text primary key,
    xml text not null
);

create table meters (
    id bigint generated always as identity primary key,
    name text not null unique,
    profile text not null check (profile in ('bench-four-wire', 'hand-two-wire')),
    host text,
    port integer check (port between 1 and 65535),
    check ((host is null) = (port is null))
);

create table jobs (
    id bigint generated always as identity primary key,
    customer text not null check (length(customer) between 1 and 120),
    machine text not null check (length(machine) between 1 and 120),
    promised date,
    assigned uuid references people,
    waiting_for text check (length(waiting_for) between 1 and 200),
    version integer not null default 1,
    made_by uuid not null references people,
    made_at timestamptz not null default now()
);

-- A document is stored whole and never changes; a new import is a new row.
create table loom_revisions (
    id bigint generated always as identity primary key,
    job_id bigint not null references jobs,
    name text not null,
    revision text not null,
    document jsonb not null check (document ->> 'format' = 'wise-loom/loom'),
    imported_by uuid not null references people,
    imported_at timestamptz not null default now()
);
create index loom_revisions_by_job on loom_revisions (job_id, id desc);
create index loom_revisions_contents on loom_revisions using gin (document jsonb_path_ops);
