-- What people change of a run, what it hands back, and what is held or set until further notice.
alter table run
  add column moved_due datetime(3),
  add column priority int not null default -1,
  add column start_now boolean not null default false,
  add column asked datetime(3),
  add column handed_back mediumtext,
  add column assumed text,
  add column tags varchar(500) not null default '',
  add key run_by_department (department, business_date),
  add key run_by_host (host, business_date);

create table run_value (
  run bigint not null,
  name varchar(100) not null,
  attempt int not null,
  value varchar(1000) not null,
  primary key (run, name)
);

create table standing_hold (
  kind varchar(20) not null,
  name varchar(200) not null,
  note varchar(1200) not null,
  who varchar(100) not null,
  since datetime(3) not null,
  primary key (kind, name)
);

create table capacity_change (
  capacity varchar(100) not null primary key,
  units int not null,
  who varchar(100) not null,
  since datetime(3) not null,
  reason varchar(1000) not null
);

create table kept_filter (
  person varchar(100) not null,
  name varchar(100) not null,
  filter varchar(2000) not null,
  changed datetime(3) not null,
  primary key (person, name)
);
