-- Definitions that are not live yet: their files, who writes them, and who must agree before they are.
create table draft (
  id bigint not null auto_increment primary key,
  title varchar(300) not null,
  owner varchar(100) not null,
  holder varchar(100) not null,
  created datetime(3) not null,
  changed datetime(3) not null,
  changed_by varchar(100) not null,
  version bigint not null,
  seen bigint not null,
  asked datetime(3),
  asked_by varchar(100) not null default '',
  ask_reason varchar(1000) not null default '',
  agreed datetime(3),
  agreed_by varchar(100) not null default '',
  agreed_version bigint not null default 0,
  trials int not null default 0,
  shared mediumtext not null,
  key draft_of (holder),
  key draft_changed (changed)
);

create table draft_file (
  id bigint not null auto_increment primary key,
  draft bigint not null,
  position int not null,
  name varchar(1000) not null,
  text longtext not null,
  key draft_file_of (draft, position)
);

-- What administrators set for the whole site, by name.
create table site_setting (
  name varchar(60) not null primary key,
  value mediumtext not null,
  changed datetime(3) not null,
  changed_by varchar(100) not null
);
