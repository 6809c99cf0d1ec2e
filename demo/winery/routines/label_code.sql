-- Codes for labels: a letter for the wine, the vintage, and a number that goes up within a session.
CREATE MODULE label_code
  DECLARE separator CONSTANT VARCHAR(1) DEFAULT '-';
  DECLARE handed_out INTEGER DEFAULT 0;

  -- The next number; nobody outside can skip one.
  PRIVATE FUNCTION next_number () RETURNS INTEGER
  BEGIN
    SET handed_out = handed_out + 1;
    RETURN handed_out;
  END;

  PRIVATE FUNCTION letter (label VARCHAR(40)) RETURNS VARCHAR(1)
    RETURN UPPER(SUBSTRING(label FROM 1 FOR 1));

  -- From a label and a vintage …
  FUNCTION make (label VARCHAR(40), vintage INTEGER) RETURNS VARCHAR(20)
    RETURN letter(label) || separator || vintage || separator || LPAD(CAST(next_number() AS VARCHAR(4)), 4, '0');

  -- … or from a lot.
  FUNCTION make (lot INTEGER) RETURNS VARCHAR(20)
  BEGIN
    DECLARE one LIKE lot;
    DECLARE EXIT HANDLER FOR NOT FOUND
      SIGNAL SQLSTATE '45070' SET MESSAGE_TEXT = 'there is no lot ' || lot;

    SELECT * INTO one FROM lot l WHERE l.lot_id = lot;
    RETURN make(one.label, one.vintage);
  END;
END MODULE;
