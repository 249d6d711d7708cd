-- Attempts of statements and mails that have begun, and how they ended.
create table begun_attempt (
  run bigint not null,
  attempt int not null,
  ended text,
  begun datetime(3) not null,
  primary key (run, attempt)
);

-- Rows that queries gave, in pieces: deflated, a JSON array a line.
create table query_result (
  run bigint not null,
  attempt int not null,
  number int not null,
  columns mediumtext not null,
  found bigint not null,
  kept bigint not null,
  complete boolean not null,
  primary key (run, attempt, number)
);

create table query_result_piece (
  run bigint not null,
  attempt int not null,
  number int not null,
  place int not null,
  many int not null,
  data mediumblob not null,
  primary key (run, attempt, number, place)
);
