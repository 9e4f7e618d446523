-- Failed tries to sign in, counted by name, by address and by both, so that all processes slow them down together.
create table sign_in_tries (
    key text primary key check (length(key) <= 300),
    tries integer not null,
    last_at timestamptz not null,
    next_at timestamptz not null
);
create index sign_in_tries_by_time on sign_in_tries (last_at);
