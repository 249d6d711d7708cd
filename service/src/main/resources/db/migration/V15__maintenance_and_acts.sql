-- Times at which nobody is told of a scope, or a host is given no work; what rules of alerts do.

create table maintenance (
  id bigint not null auto_increment primary key,
  what varchar(10) not null,
  scope varchar(20) not null,
  name varchar(200) not null,
  begins datetime(3) not null,
  ends datetime(3) not null,
  reason varchar(1000) not null,
  who varchar(100) not null,
  made datetime(3) not null,
  state varchar(10) not null,
  note varchar(500) not null,
  key maintenance_due (state, ends)
);

create table alert_act (
  id bigint not null auto_increment primary key,
  alert bigint not null,
  run bigint not null,
  rule varchar(300) not null,
  what varchar(10) not null,
  argument mediumtext not null,
  most int not null,
  round int not null,
  due datetime(3) not null,
  done datetime(3),
  state varchar(10) not null,
  note varchar(1000) not null,
  started varchar(300) not null default '',
  key act_due (state, due),
  key act_of_alert (alert),
  key act_of_run (run, what),
  key act_started (started(190))
);

-- What one shift tells the next.
create table handover (
  id bigint not null auto_increment primary key,
  written datetime(3) not null,
  who varchar(100) not null,
  text mediumtext not null,
  standing varchar(500) not null,
  taken datetime(3),
  taken_by varchar(100) not null
);
