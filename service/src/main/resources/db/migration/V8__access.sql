-- A person can be locked out; what was begun before a moment no longer holds.
alter table person
  add column if not exists locked boolean not null default false,
  add column if not exists access_since datetime(3);

-- A token has a number to name it by, a scope, an end, and the day on which it was last used.
-- Those of before open everything that they opened.
alter table api_token
  add column if not exists id bigint not null auto_increment unique,
  add column if not exists scope varchar(10) not null default 'any',
  add column if not exists expires datetime(3),
  add column if not exists used date;

-- From where people have signed in: others who fail with their name do not keep them out there.
create table if not exists sign_in_address (
  person varchar(100) not null,
  address varchar(60) not null,
  last_seen datetime(3) not null,
  primary key (person, address)
);
