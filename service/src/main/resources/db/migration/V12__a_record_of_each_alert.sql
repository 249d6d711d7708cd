-- What has become of an alert, step by step; a delivery tells of one step. Added, so that the
-- version before can go on working until it is stopped.

create table alert_step (
  id bigint not null auto_increment primary key,
  alert bigint not null,
  at datetime(3) not null,
  what varchar(20) not null,
  kind varchar(20) not null,
  who varchar(100) not null,
  text varchar(2000) not null,
  key alert_step_of (alert, id),
  constraint alert_step_alert foreign key (alert) references alert (id) on delete cascade
);
insert into alert_step (alert, at, what, kind, who, text)
  select id, opened, 'opened', kind, '', text from alert;
insert into alert_step (alert, at, what, kind, who, text)
  select id, acknowledged, 'acknowledged', kind, acknowledged_by, '' from alert
    where acknowledged is not null;
insert into alert_step (alert, at, what, kind, who, text)
  select id, closed, 'closed', kind, '', closed_because from alert where closed is not null;
alter table delivery add column step bigint null;
