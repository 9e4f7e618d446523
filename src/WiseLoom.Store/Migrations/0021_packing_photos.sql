-- Photos of the packed box, for the pack's list of what is in it. One that is taken out stays here, with who took it out.

create table packing_photos (
    key uuid primary key,
    job_id bigint not null references jobs,
    large bytea not null,
    small bytea not null,
    taken_by uuid not null references people,
    taken_at timestamptz not null default now(),
    out_by uuid references people,
    out_at timestamptz,
    check ((out_by is null) = (out_at is null))
);
create index packing_photos_of_job on packing_photos (job_id);
comment on column packing_photos.large is 'JPEG, at most 1600 px on its longer side, without metadata';
comment on column packing_photos.small is 'the same, at most 640 px: what a pack shows';
