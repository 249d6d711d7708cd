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

-- What is kept of a job's past when its runs are gone. Runs that ended after the mark are not in it.
create table job_history (
  stream varchar(200) not null,
  job varchar(100) not null,
  durations text not null,
  primary key (stream, job)
);
create table job_history_mark (
  id int not null primary key,
  until datetime(3) not null
);
alter table run add key run_by_end (ended);
alter table alert add key alert_by_close (closed);
alter table audit add key audit_by_time (at);
