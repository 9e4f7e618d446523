-- The language in which a job's papers for its customer are written.

alter table jobs add column language text not null default 'en' check (language ~ '^[a-z]{2}$');
comment on column jobs.language is 'ISO 639-1 code of the language of the papers for the customer';
