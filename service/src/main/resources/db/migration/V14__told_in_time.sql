-- What an alert comes of, who is to be told of it and when; further ways to tell. Added, so that the version before can go on
-- working until it is stopped: it writes no notices, but deliveries as before.

alter table alert add column own_key varchar(500) not null default '';
alter table alert add column cause varchar(500) not null default '';
alter table alert add column plan mediumtext;
alter table alert add column first_aid mediumtext;
alter table alert add key alert_own (closed, own_key(100));
alter table alert add key alert_cause (closed, cause(100));
alter table alert add key alert_recent (stream(100), kind, opened);

-- What only the teller changes: no other waits for it, and it for no other.
create table alert_telling (
  alert bigint not null primary key,
  part_of bigint not null default 0,
  parts int not null default 0,
  parts_told int not null default 0,
  told_at datetime(3),
  next_look datetime(3),
  grow_look datetime(3),
  looks int not null default 0,
  over_looked boolean not null default false,
  key telling_part (part_of, alert),
  key telling_look (next_look),
  key telling_grow (grow_look),
  key telling_over (over_looked)
);
insert into alert_telling (alert, over_looked) select id, closed is not null from alert;

create table notice (
  id bigint not null auto_increment primary key,
  alert bigint not null,
  step bigint not null,
  name varchar(120) not null,
  by_way_of varchar(120) not null,
  why varchar(20) not null,
  urgency varchar(10) not null,
  at datetime(3) not null,
  due datetime(3) not null,
  state varchar(10) not null,
  note varchar(500) not null,
  digest bigint not null default 0,
  key notice_due (state, due),
  key notice_of_alert (alert, id),
  key notice_of_name (name, at),
  key notice_of_digest (digest)
);

alter table delivery modify column recipient varchar(120) not null;
alter table delivery add column what varchar(10) not null default 'alert';
alter table delivery add column digest bigint not null default 0;
alter table delivery add column options mediumtext;
alter table delivery add column urgency varchar(10) not null default 'warning';
alter table delivery add column written datetime(3);
alter table delivery add column answer varchar(500) not null default '';
alter table delivery add key delivery_of_address (channel, address(190), state);
alter table delivery add key delivery_of_recipient (recipient, written);

alter table person add column mail varchar(250) not null default '';
