-- A frozen pack carries the hash of its file, so that anybody can tell whether a copy is the one that was signed.

alter table packs add column html_hash text check (length(html_hash) = 64);
alter table packs disable trigger packs_frozen;
update packs set html_hash = encode(sha256(convert_to(html, 'UTF8')), 'hex');
alter table packs enable trigger packs_frozen;
alter table packs alter column html_hash set not null;
comment on column packs.html_hash is 'SHA-256 of the HTML file as it was signed, hexadecimal';
