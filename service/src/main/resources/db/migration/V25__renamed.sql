-- What a definition was called before: its versions keep the name that they had, its runs go by the new one.
create table renamed (
  id bigint not null auto_increment primary key,
  kind varchar(40) not null,
  old_name varchar(200) not null,
  new_name varchar(200) not null,
  revision bigint not null,
  at datetime(3) not null,
  who varchar(100) not null,
  key renamed_from (kind, old_name)
);
