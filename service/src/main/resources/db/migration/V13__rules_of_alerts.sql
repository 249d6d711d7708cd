-- How urgent an alert is, and where the rule stands that it follows. Added, so that the version
-- before can go on working until it is stopped.

alter table alert add column urgency varchar(10) not null default 'warning';
alter table alert add column rule varchar(300) not null default 'built in';
