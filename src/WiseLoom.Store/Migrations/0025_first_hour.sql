-- The list of an empty shop's first page was put away for good.

create table first_hour_put_away (
    once boolean primary key default true check (once),
    by uuid not null references people,
    at timestamptz not null default now()
);
