-- How urgent an alert is, where the rule stands that it follows, and until when it is put off. Added, so that the version
-- before can go on working until it is stopped.

alter table alert add column urgency varchar(10) not null default 'warning';
alter table alert add column rule varchar(300) not null default 'built in';
alter table alert add column put_off_until datetime(3);
