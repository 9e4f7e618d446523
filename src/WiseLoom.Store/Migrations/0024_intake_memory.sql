-- What the shop has learned of strangers' papers: how tables with certain headings are read, and what words for colours mean.

create table intake_mappings (
    id bigint generated always as identity primary key,
    shape text not null unique,
    name text not null unique,
    mapping jsonb not null,
    kept_by uuid not null references people,
    kept_at timestamptz not null default now()
);
comment on column intake_mappings.shape is 'fingerprint of the headings';

create table colour_words (
    word text primary key,
    code text not null,
    said_by uuid not null references people,
    said_at timestamptz not null default now()
);
