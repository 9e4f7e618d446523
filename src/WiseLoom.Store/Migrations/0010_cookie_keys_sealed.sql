-- Keys of session cookies are kept sealed. Those that lay open are gone: everybody signs in once more.
delete from cookie_keys where xml like '<key %' and xml not like '%<encryptedSecret %';
alter table cookie_keys add constraint cookie_keys_sealed check (xml not like '<key %' or xml like '%<encryptedSecret %');
