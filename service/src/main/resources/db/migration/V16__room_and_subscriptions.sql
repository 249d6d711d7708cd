-- How much the site has told lately is asked at each message where it has a limit.
alter table delivery add key delivery_by_time (written);

-- Which services are on this database, and when each was last seen.
create table fellow (
  name varchar(300) not null primary key,
  active boolean not null,
  seen datetime(3) not null
);
