-- The growers, the cellar and the office.

CREATE TABLE `grower` (
  `grower_id`  INT UNSIGNED NOT NULL AUTO_INCREMENT,
  `name`       VARCHAR(60) NOT NULL,
  `village`    VARCHAR(40) NOT NULL,
  `joined_on`  DATE NOT NULL DEFAULT CURDATE(),
  `active`     TINYINT(1) NOT NULL DEFAULT 1,
  PRIMARY KEY (`grower_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

CREATE TABLE plot (
  plot_id    INT NOT NULL PRIMARY KEY,
  grower_id  INT UNSIGNED NOT NULL,
  variety    VARCHAR(30) NOT NULL,
  hectares   DECIMAL(6, 2) NOT NULL,
  KEY by_grower (grower_id),
  CONSTRAINT plot_grower FOREIGN KEY (grower_id) REFERENCES grower (grower_id)
) ENGINE=InnoDB;

CREATE TABLE intake (
  intake_id  INT AUTO_INCREMENT PRIMARY KEY,
  plot_id    INT NOT NULL REFERENCES plot (plot_id),
  picked_on  DATE NOT NULL,
  kilograms  DECIMAL(9, 1) NOT NULL,
  sugar      DECIMAL(4, 1),
  grade      ENUM('A', 'B', 'C'),
  CONSTRAINT intake_weighs CHECK (kilograms > 0)
) ENGINE=InnoDB;

CREATE TABLE lot (
  lot_id     INT PRIMARY KEY,
  vintage    YEAR NOT NULL,
  label      VARCHAR(40) NOT NULL
) ENGINE=InnoDB;

CREATE TABLE vessel (
  code       VARCHAR(8) PRIMARY KEY,
  kind       ENUM('tank', 'cask', 'barrel') NOT NULL,
  capacity_l DECIMAL(8, 1) NOT NULL,
  level_l    DECIMAL(8, 1) NOT NULL DEFAULT 0,
  lot_id     INT,
  notes      JSON,
  CONSTRAINT vessel_lot FOREIGN KEY (lot_id) REFERENCES lot (lot_id),
  CONSTRAINT level_fits CHECK (level_l BETWEEN 0 AND capacity_l)
) ENGINE=InnoDB;

CREATE TABLE movement (
  movement_id BIGINT AUTO_INCREMENT PRIMARY KEY,
  moved_at    TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP,
  source      VARCHAR(8),
  target      VARCHAR(8),
  litres      DECIMAL(8, 1) NOT NULL,
  note        VARCHAR(80)
) ENGINE=InnoDB;

CREATE TABLE grade_price (
  vintage    INT NOT NULL,
  grade      ENUM('A', 'B', 'C') NOT NULL,
  per_kg     DECIMAL(6, 3) NOT NULL,
  PRIMARY KEY (vintage, grade)
) ENGINE=InnoDB;

CREATE TABLE payment (
  payment_id INT AUTO_INCREMENT PRIMARY KEY,
  grower_id  INT UNSIGNED NOT NULL,
  vintage    INT NOT NULL,
  amount     DECIMAL(10, 2) NOT NULL,
  paid_on    DATE
) ENGINE=InnoDB;

CREATE TABLE journal (
  journal_id INT AUTO_INCREMENT PRIMARY KEY,
  at         TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP,
  who        VARCHAR(40) NOT NULL,
  what       VARCHAR(60) NOT NULL,
  old_value  VARCHAR(40),
  new_value  VARCHAR(40)
) ENGINE=InnoDB;
