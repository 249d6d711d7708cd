-- Runs of the past: those that have gone from the records, and those that were imported. Forecasts
-- learn from them; they are never among the runs. known_by: the number of the start, or, where nobody
-- says it, when it began.
create table past_run (
  stream varchar(200) not null,
  job varchar(100) not null,
  business_date date not null,
  known_by varchar(40) not null,
  number int not null,
  due datetime(3),
  started datetime(3),
  ended datetime(3),
  outcome varchar(12) not null,
  exit_code int,
  host varchar(100) not null,
  attempts int not null,
  imported boolean not null,
  primary key (stream, job, business_date, known_by),
  key past_run_by_date (business_date)
);

-- What is usual of commitments that promise that: fixed when they are published, renewed by hand.
create table usual_end (
  commitment varchar(100) not null primary key,
  millis bigint not null,
  ends int not null,
  since datetime(3) not null,
  end_job varchar(200) not null
);

-- What was foretold of promises at certain times before them, and what came of them.
create table foretold (
  commitment varchar(100) not null,
  business_date date not null,
  number int not null,
  horizon varchar(12) not null,
  made datetime(3) not null,
  promised datetime(3),
  p10 datetime(3),
  p50 datetime(3),
  p90 datetime(3),
  chance_late double,
  primary key (commitment, business_date, number, horizon)
);

create table promise_end (
  commitment varchar(100) not null,
  business_date date not null,
  number int not null,
  promised datetime(3),
  done datetime(3),
  primary key (commitment, business_date, number)
);
