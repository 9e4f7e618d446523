-- Photos of a look: written anew as plain pictures before they come here. The event of the same key says who took it, when and at which step.

create table run_photos (
    key uuid primary key,
    run_id bigint not null references runs,
    large bytea not null,
    small bytea not null,
    made_at timestamptz not null default now()
);
create index run_photos_of_run on run_photos (run_id);
comment on column run_photos.large is 'JPEG, at most 1600 px on its longer side, without metadata';
comment on column run_photos.small is 'the same, at most 320 px';
