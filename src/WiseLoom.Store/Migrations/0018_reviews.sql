-- What a customer says of a draft before the loom is boxed: by a link without an account, kept for ever as it was said.

create table questions (
    id bigint generated always as identity primary key,
    key uuid not null unique,
    job_id bigint not null references jobs,
    asks text not null check (length(asks) between 1 and 500),
    choices text[] not null check (cardinality(choices) between 0 and 8),
    asked_by uuid not null references people,
    asked_at timestamptz not null default now()
);
create index questions_of_a_job on questions (job_id);
create trigger questions_append_only before update or delete on questions for each row execute function refuse_change();

create table reviews (
    id bigint generated always as identity primary key,
    job_id bigint not null references jobs,
    token_hash bytea not null unique check (length(token_hash) = 32),
    made_by uuid not null references people,
    made_at timestamptz not null default now(),
    expires_at timestamptz not null,
    withdrawn_at timestamptz
);
create unique index reviews_one_open on reviews (job_id) where withdrawn_at is null;
comment on column reviews.token_hash is 'SHA-256 of the token; the token itself is shown once and kept nowhere';

create table review_words (
    id bigint generated always as identity primary key,
    review_id bigint not null references reviews,
    key uuid not null unique,
    kind text not null check (kind in ('comment', 'answer', 'go')),
    name text not null check (length(name) between 1 and 80),
    subject text not null check (length(subject) <= 80),
    words text not null check (length(words) <= 2000),
    revision_id bigint not null references loom_revisions,
    said_at timestamptz not null default now()
);
create index review_words_of_a_review on review_words (review_id, id);
create trigger review_words_append_only before update or delete on review_words for each row execute function refuse_change();
