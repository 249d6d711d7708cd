-- A set of a thousand files, and all jobs that count as done, fit into their columns.
alter table run
  modify column files mediumtext not null,
  modify column assumed mediumtext;

-- What was asked with a key, so that the same key with another request is refused.
alter table start_key
  add column if not exists request varchar(64) not null default '';
