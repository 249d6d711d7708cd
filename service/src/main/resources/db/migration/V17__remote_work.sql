-- Secrets that the service keeps, encrypted (AES-GCM: nonce, then text and tag).
create table stored_secret (
  name varchar(100) not null primary key,
  sealed varbinary(16384) not null,
  key_id varchar(16) not null,
  version int not null,
  since datetime(3) not null,
  who varchar(100) not null,
  used datetime(3)
);

-- Attempts at remote services: how far each has come. From this it goes on after a crash.
create table remote_call (
  run bigint not null,
  attempt int not null,
  service varchar(100) not null,
  operation varchar(100) not null,
  phase varchar(20) not null,
  remote_id varchar(200) not null,
  pursuit mediumtext not null,
  filled mediumtext not null,
  begun datetime(3) not null,
  changed datetime(3) not null,
  primary key (run, attempt),
  key remote_call_by_id (service, remote_id)
);
