-- A word's key is its link's own: the same key through another link is another word.
alter table review_words drop constraint review_words_key_key;
alter table review_words add constraint review_words_key_of_a_review unique (review_id, key);

-- Share links are kept as hashes alone, and they end. Those that are out keep leading to their packs for two years from now.
alter table shares add column token_hash bytea, add column expires_at timestamptz;
update shares set token_hash = sha256(convert_to(token, 'UTF8')), expires_at = now() + interval '2 years';
alter table shares drop constraint shares_pkey;
alter table shares drop column token;
alter table shares alter column token_hash set not null, alter column expires_at set not null;
alter table shares add primary key (token_hash);
