-- Instants are UTC. Texts compare byte by byte, so that names are what they are.
create table publication (
  revision bigint not null primary key,
  at datetime(3) not null,
  who varchar(100) not null,
  reason varchar(1000) not null
);

create table definition (
  id bigint not null auto_increment primary key,
  kind varchar(30) not null,
  name varchar(200) not null,
  revision bigint not null,
  withdrawn boolean not null,
  text mediumtext not null,
  file varchar(500) not null,
  published_at datetime(3) not null,
  published_by varchar(100) not null,
  unique key definition_revision (kind, name, revision)
);

create table planned_date (
  business_date date not null primary key,
  planned_at datetime(3) not null
);

create table run (
  id bigint not null primary key,
  stream varchar(200) not null,
  job varchar(100) not null,
  stream_title varchar(300) not null,
  title varchar(300) not null,
  department varchar(200) not null,
  kind varchar(20) not null,
  business_date date not null,
  number int not null,
  revision bigint not null,
  due datetime(3) not null,
  shift varchar(10) not null,
  start_by datetime(3),
  finish_by datetime(3),
  zone varchar(60) not null,
  waived boolean not null,
  long_after bigint not null,
  state varchar(12) not null,
  hold varchar(1200) not null,
  since datetime(3) not null,
  attempts int not null,
  budget int not null,
  host varchar(100) not null,
  started datetime(3),
  ended datetime(3),
  retry_at datetime(3),
  exit_code int,
  note varchar(2000) not null,
  stopping varchar(12) not null,
  not_needed boolean not null,
  open_alerts varchar(60) not null,
  files text not null,
  unique key run_reference (stream, job, business_date, number),
  key run_by_date (business_date, due, id),
  key run_by_state (state),
  key run_history (stream, job, state, ended)
);

create table attempt (
  run bigint not null,
  number int not null,
  host varchar(100) not null,
  sent datetime(3) not null,
  started datetime(3),
  ended datetime(3),
  exit_code int,
  note varchar(2000) not null,
  output_total bigint not null,
  output_kept bigint not null,
  output_complete boolean not null,
  primary key (run, number)
);

create table moment (
  id bigint not null auto_increment primary key,
  run bigint not null,
  at datetime(3) not null,
  state varchar(12) not null,
  note varchar(2000) not null,
  key moment_of_run (run, id)
);

create table output_piece (
  run bigint not null,
  attempt int not null,
  start bigint not null,
  length int not null,
  data mediumblob not null,
  primary key (run, attempt, start)
);

create table arrival (
  identity char(64) not null primary key,
  watch varchar(100) not null,
  host varchar(100) not null,
  path varchar(2000) not null,
  size bigint not null,
  modified datetime(3) not null,
  run bigint not null,
  looked datetime(3) not null,
  at datetime(3) not null,
  key arrival_of_watch (watch, at)
);

create table host (
  name varchar(100) not null primary key,
  key_hash char(64) not null,
  enrolled datetime(3) not null,
  last_seen datetime(3),
  version varchar(40) not null,
  labels varchar(1000) not null,
  clock_difference bigint not null
);

create table enrolment_token (
  token_hash char(64) not null primary key,
  host varchar(100) not null,
  expires datetime(3) not null,
  used datetime(3)
);

create table person (
  name varchar(100) not null primary key,
  role varchar(20) not null,
  password_hash varchar(300) not null,
  must_change boolean not null,
  created datetime(3) not null
);

create table api_token (
  token_hash char(64) not null primary key,
  person varchar(100) not null,
  label varchar(200) not null,
  created datetime(3) not null
);

create table alert (
  id bigint not null auto_increment primary key,
  kind varchar(20) not null,
  run bigint not null,
  reference varchar(400) not null,
  stream varchar(200) not null,
  title varchar(300) not null,
  text varchar(2000) not null,
  opened datetime(3) not null,
  acknowledged datetime(3),
  acknowledged_by varchar(100) not null,
  closed datetime(3),
  closed_because varchar(1000) not null,
  key alert_open (closed, id),
  key alert_of_run (run, kind, closed)
);

create table delivery (
  id bigint not null auto_increment primary key,
  alert bigint not null,
  recipient varchar(100) not null,
  channel varchar(20) not null,
  address varchar(500) not null,
  state varchar(20) not null,
  tries int not null,
  next_try datetime(3) not null,
  delivered datetime(3),
  last_error varchar(1000) not null,
  key delivery_due (state, next_try),
  key delivery_of_alert (alert)
);

create table audit (
  id bigint not null auto_increment primary key,
  at datetime(3) not null,
  who varchar(100) not null,
  address varchar(100) not null,
  what varchar(60) not null,
  about varchar(500) not null,
  reason varchar(1000) not null,
  key audit_about (about(200))
);

create table start_key (
  start_key varchar(200) not null primary key,
  runs mediumtext not null,
  at datetime(3) not null
);
