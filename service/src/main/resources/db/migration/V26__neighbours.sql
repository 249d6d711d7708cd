-- Other environments that this one is held against: how they are reached, and what is called otherwise here.
create table neighbour (
  name varchar(100) not null primary key,
  connection varchar(200) not null,
  names mediumtext not null
);
