-- What a run's start says beyond its time; streams that are paused; calendars that are fetched.
alter table run
  add column parameters mediumtext,
  add column left_out varchar(1000) not null default '',
  add column if_missed varchar(10) not null default 'run',
  add column start_limit datetime(3),
  add column window_start datetime(3),
  add column window_end datetime(3),
  add column window_after varchar(60) not null default '',
  add key run_of_stream (stream, business_date, number);

create table pause (
  stream varchar(200) not null primary key,
  since datetime(3) not null,
  until date,
  who varchar(100) not null,
  reason varchar(1000) not null
);

create table calendar_fetch (
  calendar varchar(100) not null primary key,
  tried datetime(3) not null,
  fetched datetime(3),
  error varchar(1000) not null
);
