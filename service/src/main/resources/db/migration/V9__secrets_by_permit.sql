-- Which variables and files of the service hold secrets that connections may use, and for which
-- address: only administrators say so.
create table if not exists secret_permit (
  id bigint not null auto_increment primary key,
  source varchar(10) not null,
  name varchar(500) not null,
  address varchar(500) not null,
  since datetime(3) not null,
  who varchar(100) not null,
  reason varchar(1000) not null
);

-- What this site has done once and for all.
create table if not exists site_mark (
  name varchar(60) not null primary key,
  at datetime(3) not null
);
