-- The repository that definitions come from, where an administrator names one; one row at most.
create table definition_source (
  id bigint not null primary key,
  address varchar(1000) not null,
  branch varchar(200) not null,
  directory varchar(500) not null,
  account varchar(100) not null,
  by_itself bit not null,
  looked datetime(3),
  problem text not null,
  head varchar(64) not null,
  head_author varchar(300) not null,
  head_message varchar(500) not null,
  published varchar(64) not null
);
