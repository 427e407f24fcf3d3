UPDATE `baskets` SET `basket` = json_set(`basket`, '$.goods', json_extract(`basket`, '$.total'));
