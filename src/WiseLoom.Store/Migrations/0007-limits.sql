-- The figures that the shop judges by: each change is a row, the newest holds.
create table shop_limits (
    version integer primary key check (version > 0),
    body jsonb not null,
    changed_by uuid not null references people,
    changed_at timestamptz not null default now()
);
create trigger shop_limits_append_only before update or delete on shop_limits for each row execute function refuse_change();
