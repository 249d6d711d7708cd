-- What alerts are about, in a word; and which are open for a run, a row each.

alter table alert add column about varchar(20) not null default 'run' after kind;
update alert set about = 'host' where kind = 'host';
update alert set about = 'calendar' where kind = 'calendar';
update alert set about = case
    when reference like 'arrival %' then 'arrival'
    when reference like '% unprocessed' then 'unprocessed'
    else 'files' end
  where kind = 'file';

create table open_alert (
  run bigint not null,
  kind varchar(40) not null,
  primary key (run, kind),
  constraint open_alert_of foreign key (run) references run (id) on delete cascade
);
insert into open_alert (run, kind)
  select r.id, k.kind from run r
    join (select 'failed' as kind union select 'late' union select 'long-running' union select 'approval') k
      on find_in_set(k.kind, r.open_alerts) > 0;
alter table run drop column open_alerts;
