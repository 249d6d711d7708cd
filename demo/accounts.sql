-- Made-up accounts of the ferry line: 5,000 tickets, for the statements of the demo.
create database if not exists accounts;
create user if not exists accountant@'127.0.0.1' identified by 'made-up-accounts';
create user if not exists accountant@localhost identified by 'made-up-accounts';
grant all on accounts.* to accountant@'127.0.0.1', accountant@localhost;
use accounts;
create table if not exists ticket (
  number int primary key, port varchar(40) not null, deck varchar(20) not null, amount decimal(8,2) not null
);
insert ignore into ticket
  select seq, elt(1 + seq % 3, 'brannoch', 'skerry', 'holm'), elt(1 + seq % 4, 'car deck', 'lorry deck', 'saloon', 'open deck'),
    120 + (seq * 37) % 400 + (seq % 100) / 100
  from seq_1_to_5000;
create table if not exists day_total (
  day date not null, port varchar(40) not null, tickets int not null, amount decimal(12,2) not null, primary key (day, port)
);
create table if not exists purser_attempts (attempt varchar(300) primary key);
