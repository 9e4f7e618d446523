-- Access that is given, changed and taken away, sessions that end, and a list of all that which only grows.

alter table people drop constraint people_role_check;
alter table people add constraint people_role_check check (role in ('look', 'technician', 'lead'));
alter table people alter column password_hash drop not null;
comment on column people.password_hash is 'null until its owner has set a password through a link';
alter table people add column disabled boolean not null default false;
alter table people add column demo boolean not null default false;
comment on column people.demo is 'a person of the example world, who comes in only while that is shown';
alter table people add column version integer not null default 1;

-- Their passwords stand in the repository: where all of the example world is there, it is the example world.
update people set demo = true
where (sign_in, name) in (('mira', 'Mira Solstad'), ('tomas', 'Tomas Wren'), ('ada', 'Ada Quill'))
  and (select count(*) from people where (sign_in, name) in (('mira', 'Mira Solstad'), ('tomas', 'Tomas Wren'), ('ada', 'Ada Quill'))) = 3;

-- Names stay on what they signed.
create trigger people_are_kept before delete on people for each row execute function refuse_change();

create table sessions (
    id uuid primary key,
    person_id uuid not null references people,
    begun_at timestamptz not null,
    seen_at timestamptz not null,
    address text not null check (length(address) <= 60),
    browser text not null check (length(browser) <= 200),
    ended_at timestamptz
);
create index sessions_by_person on sessions (person_id) where ended_at is null;
create index sessions_by_time on sessions (seen_at);

create table password_links (
    hash bytea primary key check (length(hash) = 32),
    person_id uuid not null references people,
    made_by uuid not null references people,
    expires_at timestamptz not null,
    closed_at timestamptz
);
comment on column password_links.hash is 'SHA-256 of the code: the code itself is known to its owner only';
create unique index password_links_one_open on password_links (person_id) where closed_at is null;

create table audit (
    id bigint generated always as identity primary key,
    at timestamptz not null,
    kind text not null check (length(kind) between 1 and 40),
    person_id uuid references people,
    by_id uuid references people,
    address text not null check (length(address) <= 60),
    words text not null check (length(words) <= 400)
);
comment on column audit.person_id is 'whom it is about; null for a name that nobody has';
create trigger audit_append_only before update or delete on audit for each row execute function refuse_change();
