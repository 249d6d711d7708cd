-- What tells this site from others, where both work in the same place outside: the same for ever.
create table site_identity (
  id char(36) not null primary key
);
insert into site_identity (id) values (uuid());
