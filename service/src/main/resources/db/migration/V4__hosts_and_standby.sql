-- Which service is active: each that becomes so counts the epoch up, and writes nothing once
-- another has. Its turns are numbered: after a cut it can tell whether one was written.
create table lease (
  id int not null primary key,
  epoch bigint not null,
  holder varchar(300) not null,
  address varchar(300) not null,
  turn bigint not null,
  good_until datetime(3) not null
);
insert into lease values (1, 0, '', '', 0, '2000-01-01');

-- How hosts did when they were last heard of, and what people have said of them.
alter table host
  add column cores int not null default 0,
  add column load_average double not null default -1,
  add column memory_free bigint not null default -1,
  add column memory bigint not null default -1,
  add column disk_free bigint not null default -1,
  add column disk bigint not null default -1;

create table host_drain (
  host varchar(100) not null primary key,
  note varchar(1200) not null,
  who varchar(100) not null,
  since datetime(3) not null
);

alter table run add column moves int not null default 0;
alter table attempt add key attempt_ended (ended);
