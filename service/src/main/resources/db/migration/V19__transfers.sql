-- Files that runs bring elsewhere: how far each has come.
create table transfer_file (
  run bigint not null,
  name varchar(255) character set utf8mb4 collate utf8mb4_bin not null,
  size bigint not null,
  modified bigint not null,
  state varchar(10) not null,
  hash varchar(64) not null,
  primary key (run, name)
);
