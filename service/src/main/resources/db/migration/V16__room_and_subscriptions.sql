-- How much the site has told lately is asked at each message where it has a limit.
alter table delivery add key delivery_by_time (written);

-- Which services are on this database, and when each was last seen.
create table fellow (
  name varchar(300) not null primary key,
  active boolean not null,
  seen datetime(3) not null
);

-- What has happened to files and commitments, in order, for programs.
create table happening (
  id bigint not null auto_increment primary key,
  topic varchar(20) not null,
  at datetime(3) not null,
  kind varchar(20) not null,
  subject varchar(2000) not null,
  stream varchar(200) not null,
  department varchar(200) not null,
  data mediumtext not null,
  key happening_of_topic (topic, id),
  key happening_by_time (at)
);

-- Programs that are told of what happens, and how far each has come with each topic.
create table subscription (
  id bigint not null auto_increment primary key,
  owner varchar(100) not null,
  topics varchar(200) not null,
  department varchar(200) not null,
  stream varchar(200) not null,
  kind varchar(100) not null,
  address varchar(500) not null,
  options varchar(1000) not null,
  made datetime(3) not null,
  state varchar(10) not null,
  note varchar(500) not null,
  key subscription_of_state (state)
);

create table subscription_place (
  subscription bigint not null,
  topic varchar(20) not null,
  number bigint not null,
  tries int not null,
  next_try datetime(3) not null,
  last_error varchar(1000) not null,
  delivered datetime(3),
  primary key (subscription, topic)
);
