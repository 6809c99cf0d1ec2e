-- A bottling plant, as a server has it: the database that the import is tried on.
CREATE TABLE grape (
  code VARCHAR(8) PRIMARY KEY,
  name VARCHAR(40) NOT NULL COMMENT 'As growers say it; it''s "quoted" \\ here',
  taste ENUM('dry', 'it''s sweet') DEFAULT 'dry',
  uses SET('table', 'wine'),
  shout VARCHAR(40) AS (UPPER(name)) STORED,
  UNIQUE KEY (name)
) ENGINE=InnoDB AUTO_INCREMENT=7 COMMENT='AUTO_INCREMENT=9 in words';
CREATE TABLE customer (
  id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(60) NOT NULL,
  email VARCHAR(60) UNIQUE,
  born DATE,
  seen TIMESTAMP(3) NULL,
  shift TIME(1),
  flags BIT(9),
  seal VARBINARY(4),
  weight FLOAT,
  exactly DECIMAL(10, 3),
  active BOOLEAN DEFAULT TRUE,
  since YEAR,
  extra JSON,
  best BIGINT
);
CREATE TABLE `Order` (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  customer INT UNSIGNED NOT NULL,
  email VARCHAR(60),
  FOREIGN KEY (customer) REFERENCES customer (id) ON DELETE CASCADE,
  CONSTRAINT by_email FOREIGN KEY (email) REFERENCES customer (email)
);
ALTER TABLE customer ADD CONSTRAINT best_order FOREIGN KEY (best) REFERENCES `Order` (id);
CREATE TABLE lot (
  id INT AUTO_INCREMENT PRIMARY KEY, grape VARCHAR(8) NOT NULL, parent INT, volume DOUBLE CHECK (volume >= 0),
  KEY by_grape (grape), FOREIGN KEY (grape) REFERENCES grape (code), FOREIGN KEY (parent) REFERENCES lot (id)
);
CREATE TABLE reading (at DATETIME(6) NOT NULL, degrees FLOAT) PARTITION BY RANGE (YEAR(at))
  (PARTITION old VALUES LESS THAN (2026), PARTITION new VALUES LESS THAN MAXVALUE);
CREATE TABLE nokey (a INT, b TEXT);
CREATE TABLE odd (zero DATE, one DATETIME);
CREATE SEQUENCE ticket START WITH 100 INCREMENT BY 5;

DELIMITER //
CREATE FUNCTION litres(grape VARCHAR(8)) RETURNS DOUBLE READS SQL DATA
BEGIN
  -- What is in all lots of it; 'quotes' and // in it
  RETURN (SELECT SUM(l.volume) FROM lot l WHERE l.grape = grape); # the end
END //
CREATE PROCEDURE pour(IN lot INT, INOUT volume DOUBLE) COMMENT 'Takes some'
BEGIN
  UPDATE lot l SET l.volume = l.volume - volume WHERE l.id = lot;
  SELECT l.volume INTO volume FROM lot l WHERE l.id = lot;
END //
SET sql_mode = '' //
CREATE PROCEDURE lax(OUT v TINYINT) SET v = 300 //
SET sql_mode = 'ANSI_QUOTES,PIPES_AS_CONCAT' //
CREATE FUNCTION joined("a b" INT) RETURNS TEXT RETURN 'n' || "a b" //
SET sql_mode = DEFAULT //
CREATE EVENT cleaning ON SCHEDULE EVERY 1 DAY DO DELETE FROM nokey //
DELIMITER ;
CREATE VIEW by_grape AS SELECT g.name, litres(g.code) AS litres, '`depot`.' AS word FROM grape g;
CREATE VIEW a_view AS SELECT * FROM by_grape WHERE litres > 0;

INSERT INTO grape (code, name, taste, uses) VALUES ('R', 'Riesling', 'dry', 'table,wine'), ('P', 'Pinot', 'it''s sweet', ''), ('Z', 'Zibibbo', NULL, NULL);
INSERT INTO customer (name, email, born, seen, shift, flags, seal, weight, exactly, active, since, extra)
SELECT CONCAT('Client ', seq), CONCAT('c', seq, '@example.org'), DATE '1980-02-28' + INTERVAL seq DAY,
  TIMESTAMP '2026-01-01 10:00:00.5' + INTERVAL seq HOUR, SEC_TO_TIME(seq * 30000), seq + 250, UNHEX(LPAD(HEX(seq), 4, '0')),
  seq + 0.1, seq / 7, seq % 3, 2000 + seq, JSON_OBJECT('n', seq, 't', 'a "b" \\ \n c') FROM seq_1_to_12;
INSERT INTO `Order` (customer, email) SELECT seq, CONCAT('c', seq, '@example.org') FROM seq_1_to_9;
UPDATE customer SET best = 3 WHERE id = 12;
INSERT INTO lot (grape, parent, volume) SELECT IF(seq % 2 = 0, 'R', 'P'), NULL, seq * 10.5 FROM seq_1_to_20;
UPDATE lot SET parent = id + 3 WHERE id < 10;
INSERT INTO nokey VALUES (1, ''), (1, ''), (NULL, NULL), (2, 'tab\tand "quote", comma \\ backslash');
INSERT INTO reading VALUES ('2025-12-30 01:02:03.456789', 0.1), ('2026-01-02 00:00:00', 16777217);
SET sql_mode = '';
INSERT INTO odd VALUES ('0000-00-00', '0000-00-00 00:00:00'), ('2026-02-00', '2026-01-01 00:00:00');
SET sql_mode = DEFAULT;
DO NEXT VALUE FOR ticket, NEXT VALUE FOR ticket;
DELIMITER //
CREATE TRIGGER second BEFORE INSERT ON customer FOR EACH ROW SET NEW.name = CONCAT(NEW.name, '!') //
CREATE TRIGGER first BEFORE INSERT ON customer FOR EACH ROW PRECEDES second SET NEW.name = CONCAT(NEW.name, '?') //
DELIMITER ;
