-- A stream that a row of a table makes: by which for-each. What is loaded makes it again; the row is kept
-- for the list of its versions.
alter table definition add column made_by varchar(200) not null default '';
-- Where a publication comes from, other than from a person's own hand: a parcel, a commit, an earlier version.
alter table publication add column origin varchar(1000) not null default '';
