PRAGMA application_id = 1331970676;
PRAGMA user_version = 1;
BEGIN TRANSACTION;
CREATE TABLE callouts (
	id VARCHAR NOT NULL, 
	photo VARCHAR, 
	letter VARCHAR, 
	x FLOAT, 
	y FLOAT, 
	about VARCHAR, 
	label VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "callouts" VALUES('C1','H1','A',0.19,2.26666666666666655194e-01,'J4','8 hex 2.5',0.0);
INSERT INTO "callouts" VALUES('C2','H1','B',0.46,4.46666666666666656304e-01,'P8','display',1.0);
INSERT INTO "callouts" VALUES('C3','H1','C',0.89,0.5,'P39','collar',2.0);
INSERT INTO "callouts" VALUES('C4','H1','D',0.46,0.7,'P13','name plate',3.0);
INSERT INTO "callouts" VALUES('C5','H2','A',0.36,3.13333333333333352577e-01,'J9','5 PH00',4.0);
INSERT INTO "callouts" VALUES('C6','H2','B',0.27,0.66,'P16','card cuts power',5.0);
INSERT INTO "callouts" VALUES('C7','H2','C',0.22,5.13333333333333308168e-01,'J12','port ribbon',6.0);
INSERT INTO "callouts" VALUES('C8','H2','D',0.64,3.26666666666666660745e-01,'J5','display ribbon',7.0);
INSERT INTO "callouts" VALUES('C9','H3','A',0.44,2.7333333333333331705e-01,'J16','9 PH00',8.0);
INSERT INTO "callouts" VALUES('C10','H3','B',0.195,2.7333333333333331705e-01,'J17','5 mm, longer',9.0);
INSERT INTO "callouts" VALUES('C11','H3','C',0.64,3.26666666666666660745e-01,'J5','display ribbon',10.0);
INSERT INTO "callouts" VALUES('C12','H3','D',0.65,0.62,'J14','sensor ribbon',11.0);
INSERT INTO "callouts" VALUES('C13','H3','E',0.52,0.66,'J15','battery plug',12.0);
INSERT INTO "callouts" VALUES('C14','H3','F',0.67,4.46666666666666656304e-01,'P23','buzzer',13.0);
INSERT INTO "callouts" VALUES('C15','H4','A',0.25,2.7333333333333331705e-01,'J18','4 T5',14.0);
INSERT INTO "callouts" VALUES('C16','H4','B',0.37,3.53333333333333332593e-01,'P26','radio board',15.0);
INSERT INTO "callouts" VALUES('C17','H4','C',0.43,6.0666666666666668739e-01,'P29','battery',16.0);
INSERT INTO "callouts" VALUES('C18','H4','D',0.63,4.06666666666666676288e-01,'J19','antenna lead',17.0);
INSERT INTO "callouts" VALUES('C19','H5','A',0.43,6.0666666666666668739e-01,'J20','glue, no tab',18.0);
INSERT INTO "callouts" VALUES('C20','H5','B',0.215,0.48,'J23','3 PH0',19.0);
INSERT INTO "callouts" VALUES('C21','H5','C',0.89,0.5,'P38','sensor head',20.0);
INSERT INTO "callouts" VALUES('C22','H6','A',0.23,2.86666666666666680729e-01,'P1','4 feet',21.0);
INSERT INTO "callouts" VALUES('C23','H6','B',0.44,0.5,'J2','2 IP5',22.0);
INSERT INTO "callouts" VALUES('C24','H6','C',0.56,0.7,'P51','type label',23.0);
INSERT INTO "callouts" VALUES('C25','H7','A',0.46,4.46666666666666656304e-01,'J15','battery plug',24.0);
INSERT INTO "callouts" VALUES('C26','H7','B',0.56,0.5,'P29','battery',25.0);
INSERT INTO "callouts" VALUES('C27','H8','A',0.34,2.86666666666666680729e-01,'J35','4 PH00',26.0);
INSERT INTO "callouts" VALUES('C28','H8','B',0.54,4.46666666666666656304e-01,'P8','display',27.0);
INSERT INTO "callouts" VALUES('C29','H8','C',0.24,0.46,'P11','key flex',28.0);
INSERT INTO "callouts" VALUES('C30','H9','A',0.5,2.46666666666666672957e-01,'J26','6 IP8',29.0);
INSERT INTO "callouts" VALUES('C31','H9','B',0.5,0.46,'P42','pressure cell',30.0);
INSERT INTO "callouts" VALUES('C32','H9','C',0.62,6.0666666666666668739e-01,'P44','probe',31.0);
INSERT INTO "callouts" VALUES('C33','H9','D',0.5,6.86666666666666647422e-01,'J42','ribbon',32.0);
CREATE TABLE checks (
	id VARCHAR NOT NULL, 
	rule VARCHAR, 
	"by" VARCHAR, 
	"when" VARCHAR, 
	reading FLOAT, 
	note VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "checks" VALUES('K1','identify','B. N.','2026-03-02T08:41',NULL,'',0.0);
INSERT INTO "checks" VALUES('K2','off','B. N.','2026-03-02T08:42',NULL,'',1.0);
INSERT INTO "checks" VALUES('K3','charge','B. N.','2026-03-02T08:43',22.0,'',2.0);
INSERT INTO "checks" VALUES('K4','swollen','B. N.','2026-03-02T08:44',NULL,'',3.0);
INSERT INTO "checks" VALUES('K5','strap','B. N.','2026-03-02T08:45',8.5,'',4.0);
INSERT INTO "checks" VALUES('K6','mat','B. N.','2026-03-02T08:46',NULL,'',5.0);
INSERT INTO "checks" VALUES('K7','glass','B. N.','2026-03-02T08:47',NULL,'',6.0);
INSERT INTO "checks" VALUES('K8','air','B. N.','2026-03-02T08:48',NULL,'',7.0);
CREATE TABLE device (
	"key" VARCHAR NOT NULL, 
	name VARCHAR, 
	maker VARCHAR, 
	model VARCHAR, 
	variant VARCHAR, 
	serial VARCHAR, 
	mass_g FLOAT, 
	outline VARCHAR, 
	thick_mm FLOAT, 
	opens VARCHAR, 
	contains VARCHAR, 
	times VARCHAR, 
	PRIMARY KEY ("key")
);
INSERT INTO "device" VALUES('device','Tide logger','Ondrel','T4','twin sensor','T4-000417',612.0,'rounded 134 x 92 r 14',38.0,'front','','motions');
CREATE TABLE edge_plans (
	id VARCHAR NOT NULL, 
	name VARCHAR, 
	outline VARCHAR, 
	part VARCHAR, 
	face VARCHAR, 
	pick_mm FLOAT, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "edge_plans" VALUES('O1','Window','rounded 84 x 52 r 6','P7','front',0.4,0.0);
INSERT INTO "edge_plans" VALUES('O2','Display frame','rounded 72 x 42 r 5','P9','back',0.7,1.0);
CREATE TABLE facts (
	id VARCHAR NOT NULL, 
	over VARCHAR, 
	under VARCHAR, 
	state VARCHAR, 
	step VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "facts" VALUES('F1','P4','J8','seen','',0.0);
INSERT INTO "facts" VALUES('F2','P4','J9','seen','',1.0);
INSERT INTO "facts" VALUES('F3','P4','J16','seen','',2.0);
INSERT INTO "facts" VALUES('F4','P4','J14','seen','',3.0);
INSERT INTO "facts" VALUES('F5','P4','J12','seen','',4.0);
INSERT INTO "facts" VALUES('F6','P4','S17','seen','',5.0);
INSERT INTO "facts" VALUES('F7','P4','J25','seen','',6.0);
INSERT INTO "facts" VALUES('F8','P4','J39','seen','',7.0);
INSERT INTO "facts" VALUES('F9','P4','J23','seen','',8.0);
INSERT INTO "facts" VALUES('F10','P17','J16','seen','',9.0);
INSERT INTO "facts" VALUES('F11','P17','J11','seen','',10.0);
INSERT INTO "facts" VALUES('F12','P17','J13','seen','',11.0);
INSERT INTO "facts" VALUES('F13','P17','J12','assumed','',12.0);
INSERT INTO "facts" VALUES('F14','P19','J18','seen','',13.0);
INSERT INTO "facts" VALUES('F15','P19','J19','seen','',14.0);
INSERT INTO "facts" VALUES('F16','P19','J20','seen','',15.0);
INSERT INTO "facts" VALUES('F17','P26','J20','seen','',16.0);
INSERT INTO "facts" VALUES('F18','P29','J22','seen','',17.0);
INSERT INTO "facts" VALUES('F19','P19','J23','ruled out','',18.0);
INSERT INTO "facts" VALUES('F20','P26','J23','ruled out','',19.0);
INSERT INTO "facts" VALUES('F21','P29','J23','ruled out','',20.0);
INSERT INTO "facts" VALUES('F22','P31','J21','seen','',21.0);
INSERT INTO "facts" VALUES('F23','P31','J23','ruled out','',22.0);
INSERT INTO "facts" VALUES('F24','P32','J25','seen','',23.0);
INSERT INTO "facts" VALUES('F25','P31','J25','seen','',24.0);
INSERT INTO "facts" VALUES('F26','P1','J2','ruled out','',25.0);
INSERT INTO "facts" VALUES('F27','P2','S60','seen','',26.0);
INSERT INTO "facts" VALUES('F28','P39','J28','seen','',27.0);
INSERT INTO "facts" VALUES('F29','P39','J29','seen','',28.0);
INSERT INTO "facts" VALUES('F30','P39','J30','seen','',29.0);
INSERT INTO "facts" VALUES('F31','P39','J31','seen','',30.0);
INSERT INTO "facts" VALUES('F32','P39','J42','seen','',31.0);
INSERT INTO "facts" VALUES('F33','P41','J32','seen','',32.0);
INSERT INTO "facts" VALUES('F34','P41','J33','seen','',33.0);
INSERT INTO "facts" VALUES('F35','P38','J26','ruled out','',34.0);
INSERT INTO "facts" VALUES('F36','P52','J26','seen','',35.0);
INSERT INTO "facts" VALUES('F37','P53','J26','seen','',36.0);
INSERT INTO "facts" VALUES('F38','P4','P5','seen','',37.0);
INSERT INTO "facts" VALUES('F39','P9','J36','seen','',38.0);
INSERT INTO "facts" VALUES('F40','P8','P10','seen','',39.0);
INSERT INTO "facts" VALUES('F41','P8','J34','seen','',40.0);
INSERT INTO "facts" VALUES('F42','P11','P12','seen','',41.0);
INSERT INTO "facts" VALUES('F43','P4','J37','seen','',42.0);
INSERT INTO "facts" VALUES('F44','P4','J35','seen','',43.0);
INSERT INTO "facts" VALUES('F45','P12','J35','ruled out','',44.0);
INSERT INTO "facts" VALUES('F46','P10','J34','ruled out','',45.0);
INSERT INTO "facts" VALUES('F47','P40','J29','ruled out','',46.0);
INSERT INTO "facts" VALUES('F48','P15','J39','seen','',47.0);
INSERT INTO "facts" VALUES('F49','P17','P16','ruled out','',48.0);
INSERT INTO "facts" VALUES('F50','P16','J5','ruled out','',49.0);
INSERT INTO "facts" VALUES('F51','P16','P5','ruled out','',50.0);
INSERT INTO "facts" VALUES('F52','P5','J9','ruled out','',51.0);
INSERT INTO "facts" VALUES('F53','P25','J19','ruled out','',52.0);
INSERT INTO "facts" VALUES('F54','P25','J18','ruled out','',53.0);
INSERT INTO "facts" VALUES('F55','P10','P7','seen','',54.0);
INSERT INTO "facts" VALUES('F56','P9','P8','seen','',55.0);
INSERT INTO "facts" VALUES('F57','P25','P29','assumed','',56.0);
INSERT INTO "facts" VALUES('F58','P52','J4','ruled out','',57.0);
INSERT INTO "facts" VALUES('F59','P52','P4','ruled out','',58.0);
INSERT INTO "facts" VALUES('F60','P52','J8','ruled out','',59.0);
INSERT INTO "facts" VALUES('F61','P52','P16','ruled out','',60.0);
INSERT INTO "facts" VALUES('F62','P16','J6','ruled out','',61.0);
INSERT INTO "facts" VALUES('F63','P5','J10','ruled out','',62.0);
INSERT INTO "facts" VALUES('F64','P5','P17','ruled out','',63.0);
INSERT INTO "facts" VALUES('F65','P17','J14','ruled out','',64.0);
INSERT INTO "facts" VALUES('F66','P17','J15','ruled out','',65.0);
INSERT INTO "facts" VALUES('F67','P17','J17','ruled out','',66.0);
INSERT INTO "facts" VALUES('F68','P17','P19','ruled out','',67.0);
INSERT INTO "facts" VALUES('F69','P19','J44','ruled out','',68.0);
INSERT INTO "facts" VALUES('F70','P19','P25','ruled out','',69.0);
INSERT INTO "facts" VALUES('F71','P25','P26','ruled out','',70.0);
INSERT INTO "facts" VALUES('F72','P26','P29','ruled out','',71.0);
INSERT INTO "facts" VALUES('F73','P29','P31','ruled out','',72.0);
INSERT INTO "facts" VALUES('F74','P31','P28','ruled out','',73.0);
INSERT INTO "facts" VALUES('F75','P28','P32','ruled out','',74.0);
INSERT INTO "facts" VALUES('F76','P34','J25','ruled out','',75.0);
INSERT INTO "facts" VALUES('F77','P15','P38','ruled out','',76.0);
INSERT INTO "facts" VALUES('F78','P53','P39','ruled out','',77.0);
INSERT INTO "facts" VALUES('F79','P39','J27','ruled out','',78.0);
INSERT INTO "facts" VALUES('F80','P39','P40','ruled out','',79.0);
INSERT INTO "facts" VALUES('F81','P40','J30','ruled out','',80.0);
INSERT INTO "facts" VALUES('F82','P40','J42','ruled out','',81.0);
INSERT INTO "facts" VALUES('F83','P40','J28','ruled out','',82.0);
INSERT INTO "facts" VALUES('F84','P40','P41','ruled out','',83.0);
INSERT INTO "facts" VALUES('F85','P41','P42','ruled out','',84.0);
INSERT INTO "facts" VALUES('F86','P42','J33','ruled out','',85.0);
INSERT INTO "facts" VALUES('F87','P42','P45','ruled out','',86.0);
INSERT INTO "facts" VALUES('F88','P45','P44','ruled out','',87.0);
INSERT INTO "facts" VALUES('F89','P44','J37','ruled out','',88.0);
INSERT INTO "facts" VALUES('F90','P44','P11','ruled out','',89.0);
INSERT INTO "facts" VALUES('F91','P12','P9','ruled out','',90.0);
INSERT INTO "facts" VALUES('F92','P7','J38','ruled out','',91.0);
INSERT INTO "facts" VALUES('F93','P7','P13','ruled out','',92.0);
INSERT INTO "facts" VALUES('F94','P13','J1','ruled out','',93.0);
INSERT INTO "facts" VALUES('F95','P13','P1','ruled out','',94.0);
INSERT INTO "facts" VALUES('F96','P1','J3','ruled out','',95.0);
INSERT INTO "facts" VALUES('F97','P1','P2','ruled out','',96.0);
INSERT INTO "facts" VALUES('F98','P2','J41','ruled out','',97.0);
INSERT INTO "facts" VALUES('F99','P2','P50','ruled out','',98.0);
INSERT INTO "facts" VALUES('F100','P50','P49','ruled out','',99.0);
CREATE TABLE findings (
	id VARCHAR NOT NULL, 
	kind VARCHAR, 
	text VARCHAR, 
	about VARCHAR, 
	value FLOAT, 
	unit VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "findings" VALUES('N1','praise','One driver opens the lid, and the seal survives until it is lifted','P4',NULL,'',0.0);
INSERT INTO "findings" VALUES('N2','praise','Arrows on every ribbon show which way its lock turns','J5',NULL,'',1.0);
INSERT INTO "findings" VALUES('N3','praise','The memory card cuts the power in one move','P16',NULL,'',2.0);
INSERT INTO "findings" VALUES('N4','praise','The port board comes out without the main board','P32',NULL,'',3.0);
INSERT INTO "findings" VALUES('N5','complaint','Very strong battery glue and no tab','J20',NULL,'',4.0);
INSERT INTO "findings" VALUES('N6','complaint','One board screw is a millimetre longer and looks the same','J17',NULL,'',5.0);
INSERT INTO "findings" VALUES('N7','complaint','The display sits behind the window glue','P8',NULL,'',6.0);
INSERT INTO "findings" VALUES('N8','complaint','Collar screws are single use','J26',NULL,'',7.0);
INSERT INTO "findings" VALUES('N9','damage','The hatch seal tore on the first opening','P3',NULL,'',8.0);
INSERT INTO "findings" VALUES('N10','spec','11.8 Wh cell, charge limited to 80 percent by the charger','P29',NULL,'',9.0);
INSERT INTO "findings" VALUES('N11','spec','Pressure cell to 20 m','P42',NULL,'',10.0);
INSERT INTO "findings" VALUES('N12','mark','6.5 out of ten from the first analyst','',NULL,'',11.0);
INSERT INTO "findings" VALUES('N13','note','The long screw would reach the display ribbon in any other hole','J17',NULL,'',12.0);
INSERT INTO "findings" VALUES('N14','note','The second sensor is fitted in the twin version only','P45',NULL,'',13.0);
INSERT INTO "findings" VALUES('N15','note','The vent membrane must not be touched','P36',NULL,'',14.0);
INSERT INTO "findings" VALUES('N16','note','The clock keeps running on its own cell for two years','P22',NULL,'',15.0);
INSERT INTO "findings" VALUES('N17','caution','Cell edge lies under the film blade','P29',NULL,'',16.0);
CREATE TABLE joints (
	id VARCHAR NOT NULL, 
	kind VARCHAR, 
	name VARCHAR, 
	"into" VARCHAR, 
	count INTEGER, 
	reuse VARCHAR, 
	place VARCHAR, 
	note VARCHAR, 
	drive VARCHAR, 
	size VARCHAR, 
	thread VARCHAR, 
	length_mm FLOAT, 
	lengths VARCHAR, 
	head VARCHAR, 
	head_mm FLOAT, 
	finish VARCHAR, 
	torque_ncm FLOAT, 
	latch VARCHAR, 
	pins INTEGER, 
	width_mm FLOAT, 
	tab BOOLEAN, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "joints" VALUES('J1','adhesive','Feet glue','P48',4,'inspect','','','','','',14.0,'','',NULL,'',NULL,'',NULL,14.0,NULL,0.0);
INSERT INTO "joints" VALUES('J2','screw','','P48',2,'','','','hexalobular-plus','IP5','M2',6.0,'','countersunk',3.8,'black',NULL,'',NULL,NULL,NULL,1.0);
INSERT INTO "joints" VALUES('J3','tape','Hatch seal bead','P2',1,'renew','','','','','',160.0,'','',NULL,'',NULL,'',NULL,3.0,NULL,2.0);
INSERT INTO "joints" VALUES('J4','screw','Lid screws','P48',8,'','','','hex-socket','2.5','M3',12.0,'','cheese head',5.5,'stainless',60.0,'',NULL,NULL,NULL,3.0);
INSERT INTO "joints" VALUES('J5','connector','Display ribbon','',1,'','','','','','',NULL,'','',NULL,'',NULL,'flip-lock',40,NULL,NULL,4.0);
INSERT INTO "joints" VALUES('J6','connector','Key ribbon','',1,'','','','','','',NULL,'','',NULL,'',NULL,'flip-lock',12,NULL,NULL,5.0);
INSERT INTO "joints" VALUES('J7','press fit','Lid seal groove','P4',1,'renew','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,6.0);
INSERT INTO "joints" VALUES('J8','connector','Memory card slot','',1,'','','','','','',NULL,'','',NULL,'',NULL,'slide-in',NULL,NULL,NULL,7.0);
INSERT INTO "joints" VALUES('J9','screw','','P19',5,'','','','cross','PH00','M1.6',2.5,'','wafer head',3.2,'silver',NULL,'',NULL,NULL,NULL,8.0);
INSERT INTO "joints" VALUES('J10','clip','Shield edge clips','P19',3,'','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,9.0);
INSERT INTO "joints" VALUES('J11','coax','Radio coax leads','',2,'','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,10.0);
INSERT INTO "joints" VALUES('J12','connector','Port ribbon','',1,'','','','','','',NULL,'','',NULL,'',NULL,'flip-lock',24,NULL,NULL,11.0);
INSERT INTO "joints" VALUES('J13','connector','Radio plug','',1,'','','','','','',NULL,'','',NULL,'',NULL,'board-to-board',30,NULL,NULL,12.0);
INSERT INTO "joints" VALUES('J14','connector','Sensor ribbon','',1,'','','','','','',NULL,'','',NULL,'',NULL,'flip-lock',16,NULL,NULL,13.0);
INSERT INTO "joints" VALUES('J15','connector','Battery plug','',1,'','','','','','',NULL,'','',NULL,'',NULL,'board-to-board',6,NULL,NULL,14.0);
INSERT INTO "joints" VALUES('J16','screw','Board screws','P15',9,'','','','cross','PH00','M1.6',4.0,'','pan head',2.8,'silver',9.0,'',NULL,NULL,NULL,15.0);
INSERT INTO "joints" VALUES('J17','screw','Long board screw','P15',1,'','upper left','','cross','PH00','M1.6',5.0,'','pan head',2.8,'silver',9.0,'',NULL,NULL,NULL,16.0);
INSERT INTO "joints" VALUES('J18','screw','','P15',4,'','','','hexalobular','T5','M2',5.0,'','pan head',3.5,'black',NULL,'',NULL,NULL,NULL,17.0);
INSERT INTO "joints" VALUES('J19','coax','Antenna lead','',1,'','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,18.0);
INSERT INTO "joints" VALUES('J20','adhesive','Battery glue','P31',1,'','','','','','',52.0,'','',NULL,'',NULL,'',NULL,34.0,0,19.0);
INSERT INTO "joints" VALUES('J21','adhesive','Antenna tape','P15',1,'','','','','','',30.0,'','',NULL,'',NULL,'',NULL,8.0,1,20.0);
INSERT INTO "joints" VALUES('J22','screw','','P15',4,'','','','hexalobular','T5','M2',4.0,'','pan head',3.5,'black',NULL,'',NULL,NULL,NULL,21.0);
INSERT INTO "joints" VALUES('J23','screw','','P15',3,'','','','cross','PH0','M2',5.0,'','pan head',3.5,'silver',NULL,'',NULL,NULL,NULL,22.0);
INSERT INTO "joints" VALUES('J24','press fit','Port seal lip','P32',1,'renew','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,23.0);
INSERT INTO "joints" VALUES('J25','screw','Core screws','P48',6,'','','','hexalobular','T10','M3',8.0,'','pan head',5.6,'zinc',NULL,'',NULL,NULL,NULL,24.0);
INSERT INTO "joints" VALUES('J26','screw','Collar screws','P47',6,'renew','','','hexalobular-plus','IP8','M2.5',8.0,'','countersunk',4.7,'coated',NULL,'',NULL,NULL,NULL,25.0);
INSERT INTO "joints" VALUES('J27','press fit','Collar seal groove','P47',1,'renew','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,26.0);
INSERT INTO "joints" VALUES('J28','screw','','P47',3,'','','','hexalobular','T6','M2',4.0,'','pan head',3.5,'silver',NULL,'',NULL,NULL,NULL,27.0);
INSERT INTO "joints" VALUES('J29','connector','Second sensor plug','',1,'','','','','','',NULL,'','',NULL,'',NULL,'wire plug',6,NULL,NULL,28.0);
INSERT INTO "joints" VALUES('J30','connector','Probe plug','',1,'','','','','','',NULL,'','',NULL,'',NULL,'wire plug',2,NULL,NULL,29.0);
INSERT INTO "joints" VALUES('J31','connector','Pressure cell plug','',1,'','','','','','',NULL,'','',NULL,'',NULL,'board-to-board',8,NULL,NULL,30.0);
INSERT INTO "joints" VALUES('J32','press fit','Pressure cell seat','P47',1,'','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,31.0);
INSERT INTO "joints" VALUES('J33','screw','','P47',2,'','','','hexalobular','T6','M2',5.0,'','pan head',3.5,'silver',NULL,'',NULL,NULL,NULL,32.0);
INSERT INTO "joints" VALUES('J34','adhesive','Window glue','P6',1,'','','','','','',84.0,'','',NULL,'',NULL,'',NULL,4.0,NULL,33.0);
INSERT INTO "joints" VALUES('J35','screw','','P6',4,'','','','cross','PH00','M1.6',3.0,'','pan head',2.8,'black',NULL,'',NULL,NULL,NULL,34.0);
INSERT INTO "joints" VALUES('J36','clip','Display clips','P9',4,'','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,35.0);
INSERT INTO "joints" VALUES('J37','adhesive','Key flex tape','P6',1,'','','','','','',54.0,'','',NULL,'',NULL,'',NULL,10.0,1,36.0);
INSERT INTO "joints" VALUES('J38','adhesive','Name plate glue','P6',1,'','','','','','',60.0,'','',NULL,'',NULL,'',NULL,8.0,NULL,37.0);
INSERT INTO "joints" VALUES('J39','screw','Head screws','P48',4,'','','','hexalobular','T10','M3',10.0,'','pan head',5.6,'zinc',NULL,'',NULL,NULL,NULL,38.0);
INSERT INTO "joints" VALUES('J40','magnet','Cap magnets','P39',2,'','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,39.0);
INSERT INTO "joints" VALUES('J41','press fit','Lug pin','P48',1,'','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,40.0);
INSERT INTO "joints" VALUES('J42','connector','Sensor board ribbon','',1,'','','','','','',NULL,'','',NULL,'',NULL,'flip-lock',16,NULL,NULL,41.0);
INSERT INTO "joints" VALUES('J43','clip','Guard ring clips','P39',3,'','','','','','',NULL,'','',NULL,'',NULL,'',NULL,NULL,NULL,42.0);
INSERT INTO "joints" VALUES('J44','tape','Thermal pad tack','P19',1,'renew','','','','','',20.0,'','',NULL,'',NULL,'',NULL,20.0,NULL,43.0);
CREATE TABLE joints_holds (
	owner VARCHAR NOT NULL, 
	n INTEGER NOT NULL, 
	value VARCHAR, 
	PRIMARY KEY (owner, n)
);
INSERT INTO "joints_holds" VALUES('J1',0,'P1');
INSERT INTO "joints_holds" VALUES('J2',0,'P2');
INSERT INTO "joints_holds" VALUES('J3',0,'P3');
INSERT INTO "joints_holds" VALUES('J4',0,'P4');
INSERT INTO "joints_holds" VALUES('J5',0,'P8');
INSERT INTO "joints_holds" VALUES('J5',1,'P19');
INSERT INTO "joints_holds" VALUES('J6',0,'P11');
INSERT INTO "joints_holds" VALUES('J6',1,'P19');
INSERT INTO "joints_holds" VALUES('J7',0,'P5');
INSERT INTO "joints_holds" VALUES('J8',0,'P16');
INSERT INTO "joints_holds" VALUES('J8',1,'P19');
INSERT INTO "joints_holds" VALUES('J9',0,'P17');
INSERT INTO "joints_holds" VALUES('J10',0,'P17');
INSERT INTO "joints_holds" VALUES('J11',0,'P26');
INSERT INTO "joints_holds" VALUES('J11',1,'P19');
INSERT INTO "joints_holds" VALUES('J12',0,'P32');
INSERT INTO "joints_holds" VALUES('J12',1,'P19');
INSERT INTO "joints_holds" VALUES('J13',0,'P26');
INSERT INTO "joints_holds" VALUES('J13',1,'P19');
INSERT INTO "joints_holds" VALUES('J14',0,'P46');
INSERT INTO "joints_holds" VALUES('J14',1,'P19');
INSERT INTO "joints_holds" VALUES('J15',0,'P29');
INSERT INTO "joints_holds" VALUES('J15',1,'P19');
INSERT INTO "joints_holds" VALUES('J16',0,'P19');
INSERT INTO "joints_holds" VALUES('J17',0,'P19');
INSERT INTO "joints_holds" VALUES('J18',0,'P26');
INSERT INTO "joints_holds" VALUES('J19',0,'P28');
INSERT INTO "joints_holds" VALUES('J19',1,'P26');
INSERT INTO "joints_holds" VALUES('J20',0,'P29');
INSERT INTO "joints_holds" VALUES('J21',0,'P28');
INSERT INTO "joints_holds" VALUES('J22',0,'P31');
INSERT INTO "joints_holds" VALUES('J23',0,'P32');
INSERT INTO "joints_holds" VALUES('J24',0,'P34');
INSERT INTO "joints_holds" VALUES('J25',0,'P15');
INSERT INTO "joints_holds" VALUES('J26',0,'P39');
INSERT INTO "joints_holds" VALUES('J27',0,'P40');
INSERT INTO "joints_holds" VALUES('J28',0,'P41');
INSERT INTO "joints_holds" VALUES('J29',0,'P45');
INSERT INTO "joints_holds" VALUES('J29',1,'P41');
INSERT INTO "joints_holds" VALUES('J30',0,'P44');
INSERT INTO "joints_holds" VALUES('J30',1,'P41');
INSERT INTO "joints_holds" VALUES('J31',0,'P42');
INSERT INTO "joints_holds" VALUES('J31',1,'P41');
INSERT INTO "joints_holds" VALUES('J32',0,'P42');
INSERT INTO "joints_holds" VALUES('J33',0,'P45');
INSERT INTO "joints_holds" VALUES('J34',0,'P7');
INSERT INTO "joints_holds" VALUES('J35',0,'P9');
INSERT INTO "joints_holds" VALUES('J36',0,'P8');
INSERT INTO "joints_holds" VALUES('J37',0,'P11');
INSERT INTO "joints_holds" VALUES('J38',0,'P13');
INSERT INTO "joints_holds" VALUES('J39',0,'P38');
INSERT INTO "joints_holds" VALUES('J40',0,'P52');
INSERT INTO "joints_holds" VALUES('J41',0,'P50');
INSERT INTO "joints_holds" VALUES('J42',0,'P41');
INSERT INTO "joints_holds" VALUES('J42',1,'P46');
INSERT INTO "joints_holds" VALUES('J43',0,'P53');
INSERT INTO "joints_holds" VALUES('J44',0,'P25');
CREATE TABLE keepouts (
	id VARCHAR NOT NULL, 
	"plan" VARCHAR, 
	kind VARCHAR, 
	x_mm FLOAT, 
	y_mm FLOAT, 
	wide_mm FLOAT, 
	high_mm FLOAT, 
	below_mm FLOAT, 
	name VARCHAR, 
	part VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "keepouts" VALUES('Z1','O1','sensor',58.0,4.2,5.0,3.4,0.0,'Light sensor','',0.0);
INSERT INTO "keepouts" VALUES('Z2','O1','key flex',26.0,47.5,26.0,5.0,0.0,'','P11',1.0);
INSERT INTO "keepouts" VALUES('Z3','O1','cable hinge',3.5,24.0,6.0,15.0,0.0,'Display ribbon','',2.0);
INSERT INTO "keepouts" VALUES('Z4','O1','other',43.0,25.0,62.0,34.0,3.2,'','P8',3.0);
INSERT INTO "keepouts" VALUES('Z5','O1','antenna',78.5,12.0,4.0,13.0,1.2,'Radio antenna strip','',4.0);
INSERT INTO "keepouts" VALUES('Z6','O2','cable hinge',4.0,21.0,7.0,14.0,0.0,'Display ribbon','',5.0);
INSERT INTO "keepouts" VALUES('Z7','O2','other',50.0,36.8,8.0,3.0,0.0,'Backlight lead','',6.0);
INSERT INTO "keepouts" VALUES('Z8','O2','sensor',55.0,4.0,4.0,3.0,0.0,'Light sensor','',7.0);
CREATE TABLE laps (
	run VARCHAR NOT NULL, 
	n INTEGER NOT NULL, 
	step VARCHAR, 
	seconds FLOAT, 
	PRIMARY KEY (run, n)
);
INSERT INTO "laps" VALUES('R1',0,'S1',42.0);
INSERT INTO "laps" VALUES('R1',1,'S2',4.0);
INSERT INTO "laps" VALUES('R1',2,'S3',96.0);
INSERT INTO "laps" VALUES('R1',3,'S4',9.0);
INSERT INTO "laps" VALUES('R1',4,'S5',7.0);
INSERT INTO "laps" VALUES('R1',5,'S6',14.0);
INSERT INTO "laps" VALUES('R1',6,'S7',11.0);
INSERT INTO "laps" VALUES('R1',7,'S8',5.0);
INSERT INTO "laps" VALUES('R1',8,'S9',21.0);
INSERT INTO "laps" VALUES('R1',9,'S10',38.0);
INSERT INTO "laps" VALUES('R1',10,'S11',12.0);
INSERT INTO "laps" VALUES('R1',11,'S12',5.0);
INSERT INTO "laps" VALUES('R1',12,'S13',15.0);
INSERT INTO "laps" VALUES('R1',13,'S14',10.0);
INSERT INTO "laps" VALUES('R1',14,'S15',8.0);
INSERT INTO "laps" VALUES('R1',15,'S16',12.0);
INSERT INTO "laps" VALUES('R1',16,'S17',19.0);
INSERT INTO "laps" VALUES('R1',17,'S18',83.0);
INSERT INTO "laps" VALUES('R1',18,'S19',11.0);
INSERT INTO "laps" VALUES('R1',19,'S20',18.0);
INSERT INTO "laps" VALUES('R1',20,'S21',9.0);
INSERT INTO "laps" VALUES('R1',21,'S22',9.0);
INSERT INTO "laps" VALUES('R1',22,'S23',41.0);
INSERT INTO "laps" VALUES('R1',23,'S24',8.0);
INSERT INTO "laps" VALUES('R1',24,'S25',24.0);
INSERT INTO "laps" VALUES('R1',25,'S26',64.0);
INSERT INTO "laps" VALUES('R1',26,'S27',31.0);
INSERT INTO "laps" VALUES('R1',27,'S28',6.0);
INSERT INTO "laps" VALUES('R1',28,'S29',16.0);
INSERT INTO "laps" VALUES('R1',29,'S30',22.0);
INSERT INTO "laps" VALUES('R1',30,'S31',9.0);
INSERT INTO "laps" VALUES('R1',31,'S32',13.0);
INSERT INTO "laps" VALUES('R1',32,'S33',40.0);
INSERT INTO "laps" VALUES('R1',33,'S34',11.0);
INSERT INTO "laps" VALUES('R1',34,'S35',46.0);
INSERT INTO "laps" VALUES('R1',35,'S36',10.0);
INSERT INTO "laps" VALUES('R1',36,'S37',12.0);
INSERT INTO "laps" VALUES('R1',37,'S38',71.0);
INSERT INTO "laps" VALUES('R1',38,'S39',6.0);
INSERT INTO "laps" VALUES('R1',39,'S40',14.0);
INSERT INTO "laps" VALUES('R1',40,'S41',26.0);
INSERT INTO "laps" VALUES('R1',41,'S42',9.0);
INSERT INTO "laps" VALUES('R1',42,'S43',27.0);
INSERT INTO "laps" VALUES('R1',43,'S44',5.0);
INSERT INTO "laps" VALUES('R1',44,'S45',28.0);
INSERT INTO "laps" VALUES('R1',45,'S46',24.0);
INSERT INTO "laps" VALUES('R1',46,'S47',7.0);
INSERT INTO "laps" VALUES('R1',47,'S48',18.0);
INSERT INTO "laps" VALUES('R1',48,'S49',4.0);
INSERT INTO "laps" VALUES('R1',49,'S50',34.0);
INSERT INTO "laps" VALUES('R1',50,'S51',5.0);
INSERT INTO "laps" VALUES('R1',51,'S52',23.0);
INSERT INTO "laps" VALUES('R1',52,'S53',8.0);
INSERT INTO "laps" VALUES('R1',53,'S54',15.0);
INSERT INTO "laps" VALUES('R1',54,'S55',52.0);
INSERT INTO "laps" VALUES('R1',55,'S56',20.0);
INSERT INTO "laps" VALUES('R1',56,'S57',34.0);
INSERT INTO "laps" VALUES('R1',57,'S58',16.0);
INSERT INTO "laps" VALUES('R1',58,'S59',12.0);
INSERT INTO "laps" VALUES('R1',59,'S60',13.0);
INSERT INTO "laps" VALUES('R1',60,'S61',15.0);
INSERT INTO "laps" VALUES('R1',61,'S62',3.0);
CREATE TABLE layers (
	id VARCHAR NOT NULL, 
	warmup VARCHAR, 
	material VARCHAR, 
	thickness_mm FLOAT, 
	role VARCHAR, 
	name VARCHAR, 
	conductivity_w_mk FLOAT, 
	density_kg_m3 FLOAT, 
	heat_j_kgk FLOAT, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "layers" VALUES('L1','W1','acrylic sheet',2.0,'cover','Window',NULL,NULL,NULL,0.0);
INSERT INTO "layers" VALUES('L2','W1','foam tape',0.4,'glue','Window glue',NULL,NULL,NULL,1.0);
INSERT INTO "layers" VALUES('L3','W1','air',0.8,'gap','',NULL,NULL,NULL,2.0);
INSERT INTO "layers" VALUES('L4','W1','display stack',2.2,'guarded','Display',NULL,NULL,NULL,3.0);
INSERT INTO "layers" VALUES('L5','W2','aluminium alloy',1.2,'cover','Battery tray',NULL,NULL,NULL,4.0);
INSERT INTO "layers" VALUES('L6','W2','acrylic tape',0.25,'glue','Battery glue',NULL,NULL,NULL,5.0);
INSERT INTO "layers" VALUES('L7','W2','lithium pouch cell',9.0,'guarded','Battery',NULL,NULL,NULL,6.0);
CREATE TABLE parts (
	id VARCHAR NOT NULL, 
	name VARCHAR, 
	inside VARCHAR, 
	kind VARCHAR, 
	priority BOOLEAN, 
	reuse VARCHAR, 
	variant VARCHAR, 
	mass_g FLOAT, 
	note VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "parts" VALUES('P1','Rubber feet','','trim',0,'inspect','',6.0,'',0.0);
INSERT INTO "parts" VALUES('P2','Base hatch','','cover',0,'','',14.0,'',1.0);
INSERT INTO "parts" VALUES('P3','Hatch seal','P2','seal',0,'renew','',1.0,'',2.0);
INSERT INTO "parts" VALUES('P4','Lid','','module',0,'','',118.0,'',3.0);
INSERT INTO "parts" VALUES('P5','Lid seal','P4','seal',0,'renew','',3.0,'',4.0);
INSERT INTO "parts" VALUES('P6','Lid shell','P4','cover',0,'','',62.0,'',5.0);
INSERT INTO "parts" VALUES('P7','Window','P4','glass',0,'','',18.0,'',6.0);
INSERT INTO "parts" VALUES('P8','Display','P4','display',1,'','',24.0,'',7.0);
INSERT INTO "parts" VALUES('P9','Display frame','P4','frame',0,'','',5.0,'',8.0);
INSERT INTO "parts" VALUES('P10','Display foam','P4','foam',0,'renew','',1.0,'',9.0);
INSERT INTO "parts" VALUES('P11','Key flex','P4','flex',0,'','',2.0,'',10.0);
INSERT INTO "parts" VALUES('P12','Key mat','P4','keys',0,'','',7.0,'',11.0);
INSERT INTO "parts" VALUES('P13','Name plate','P4','label',0,'','',2.0,'',12.0);
INSERT INTO "parts" VALUES('P14','Lid wedge','P4','frame',0,'','',1.0,'',13.0);
INSERT INTO "parts" VALUES('P15','Core','','module',0,'','',298.0,'',14.0);
INSERT INTO "parts" VALUES('P16','Memory card','P15','card',1,'','',2.0,'',15.0);
INSERT INTO "parts" VALUES('P17','Shield plate','P15','shield',0,'','',9.0,'',16.0);
INSERT INTO "parts" VALUES('P18','Shield label','P17','label',0,'renew','',NULL,'',17.0);
INSERT INTO "parts" VALUES('P19','Main board','P15','board',1,'','',38.0,'',18.0);
INSERT INTO "parts" VALUES('P20','Processor','P19','chip',0,'','',NULL,'',19.0);
INSERT INTO "parts" VALUES('P21','Memory chip','P19','chip',0,'','',NULL,'',20.0);
INSERT INTO "parts" VALUES('P22','Clock cell','P19','cell',0,'','',3.0,'',21.0);
INSERT INTO "parts" VALUES('P23','Buzzer','P19','sounder',0,'','',2.0,'',22.0);
INSERT INTO "parts" VALUES('P24','Card socket','P19','socket',0,'','',NULL,'',23.0);
INSERT INTO "parts" VALUES('P25','Thermal pad','P15','pad',0,'renew','',1.0,'',24.0);
INSERT INTO "parts" VALUES('P26','Radio board','P15','board',0,'','',21.0,'',25.0);
INSERT INTO "parts" VALUES('P27','Radio can','P26','shield',0,'','',NULL,'',26.0);
INSERT INTO "parts" VALUES('P28','Antenna','P15','antenna',0,'','',4.0,'',27.0);
INSERT INTO "parts" VALUES('P29','Battery','P15','battery',1,'renew','',74.0,'',28.0);
INSERT INTO "parts" VALUES('P30','Battery tape','P29','tape',0,'renew','',1.0,'',29.0);
INSERT INTO "parts" VALUES('P31','Battery tray','P15','frame',0,'','',11.0,'',30.0);
INSERT INTO "parts" VALUES('P32','Port board','P15','board',1,'','',9.0,'',31.0);
INSERT INTO "parts" VALUES('P33','Data port','P32','port',0,'','',4.0,'',32.0);
INSERT INTO "parts" VALUES('P34','Port seal','P32','seal',0,'renew','',1.0,'',33.0);
INSERT INTO "parts" VALUES('P36','Vent membrane','P15','membrane',0,'renew','',NULL,'',34.0);
INSERT INTO "parts" VALUES('P37','Liquid sticker','P15','label',0,'','',NULL,'',35.0);
INSERT INTO "parts" VALUES('P38','Sensor head','','module',0,'','',96.0,'',36.0);
INSERT INTO "parts" VALUES('P39','Sensor collar','P38','cover',0,'','',31.0,'',37.0);
INSERT INTO "parts" VALUES('P40','Collar seal','P38','seal',0,'renew','',2.0,'',38.0);
INSERT INTO "parts" VALUES('P41','Sensor board','P38','board',0,'','',12.0,'',39.0);
INSERT INTO "parts" VALUES('P42','Pressure cell','P38','sensor',1,'','',17.0,'',40.0);
INSERT INTO "parts" VALUES('P43','Cell seal','P38','seal',0,'renew','',1.0,'',41.0);
INSERT INTO "parts" VALUES('P44','Temperature probe','P38','sensor',0,'','',6.0,'',42.0);
INSERT INTO "parts" VALUES('P45','Second sensor','P38','sensor',0,'','twin sensor',15.0,'',43.0);
INSERT INTO "parts" VALUES('P46','Sensor flex','P38','flex',0,'','',2.0,'',44.0);
INSERT INTO "parts" VALUES('P47','Head core','P38','frame',0,'','',11.0,'',45.0);
INSERT INTO "parts" VALUES('P48','Base shell','','cover',0,'','',124.0,'',46.0);
INSERT INTO "parts" VALUES('P49','Strap lug','P48','trim',0,'','',8.0,'',47.0);
INSERT INTO "parts" VALUES('P50','Lug pin','P48','pin',0,'','',1.0,'',48.0);
INSERT INTO "parts" VALUES('P51','Type label','P48','label',0,'','',NULL,'',49.0);
INSERT INTO "parts" VALUES('P52','Lens cap','','trim',0,'','',4.0,'',50.0);
INSERT INTO "parts" VALUES('P53','Guard ring','P38','trim',0,'','',3.0,'',51.0);
INSERT INTO "parts" VALUES('P54','Light pipe','P4','trim',0,'','',1.0,'',52.0);
CREATE TABLE photos (
	id VARCHAR NOT NULL, 
	sha256 VARCHAR, 
	step VARCHAR, 
	caption VARCHAR, 
	width INTEGER, 
	height INTEGER, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "photos" VALUES('H1','005befd2fa42fcf0aaaabbb33af3d34f45424becda5ecd98e0317db98a83ab96','S3','Lid closed',1200,900,0.0);
INSERT INTO "photos" VALUES('H2','7f776b34093b82f994d703ac0abf32976e04f2b9d4cba9c1972418b04c262b73','S10','Lid away, shield on',1200,900,1.0);
INSERT INTO "photos" VALUES('H3','f3b66755dc4b3797fc1a81b2868002376148ea3a4743e307cabc0dad50bbb206','S18','Shield off',1200,900,2.0);
INSERT INTO "photos" VALUES('H4','bc76f3c12e45c627b298addf45f153e14aa5d5adf552c02b87ed456b3c0e0e00','S23','Main board out',1200,900,3.0);
INSERT INTO "photos" VALUES('H5','0b3bfc5332932702f9856bd5be5209f7a8579bf2f27d34521f059892177d01e9','S27','Radio board out',1200,900,4.0);
INSERT INTO "photos" VALUES('H6','19410f78f8f5eb25ddc10db5c47b346553acf2b65e6840b8957ba0bfa0549460','S57','Back, feet on',1200,900,5.0);
INSERT INTO "photos" VALUES('H7','3299eabfe8ffb7bc4c938e94686e30fa957df2085787ded34e7f3118f5c76ede','S60','Hatch off',1200,900,6.0);
INSERT INTO "photos" VALUES('H8','05725773db00ece5ceea1e4462c97e5574c10f110892b0c411c541c70f81beff','S50','Inside of the lid',1200,900,7.0);
INSERT INTO "photos" VALUES('H9','a657a201c051e816d58b65945bfc7b7fefbc27ecdf863ef80eeb5701afcf00b5','S41','Sensor head open',1200,900,8.0);
INSERT INTO "photos" VALUES('H10','6209e1a7f27fdb1beb81a5b20a196ce71b1d767f016a0d25cbfd52630054347a','S62','Laid out',1200,900,9.0);
CREATE TABLE pictures (
	sha256 VARCHAR NOT NULL, 
	kind VARCHAR, 
	data BLOB, 
	PRIMARY KEY (sha256)
);
CREATE TABLE runs (
	id VARCHAR NOT NULL, 
	kind VARCHAR, 
	started VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "runs" VALUES('R1','timed','2026-03-02T09:14',0.0);
CREATE TABLE steps (
	id VARCHAR NOT NULL, 
	verb VARCHAR, 
	said VARCHAR, 
	tool VARCHAR, 
	face VARCHAR, 
	wait_s FLOAT, 
	isolates_power BOOLEAN, 
	phase VARCHAR, 
	note VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "steps" VALUES('S1','prepare','Logger off, cap on, wrist strap tested','','front',0.0,0,'apart','',0.0);
INSERT INTO "steps" VALUES('S2','take out','The lens cap comes off, two magnets hold it','','front',0.0,0,'apart','',1.0);
INSERT INTO "steps" VALUES('S3','unscrew','Backed out eight 2.5 mm hex socket screws, twelve millimetres, around the lid','hex 2.5','front',0.0,0,'apart','',2.0);
INSERT INTO "steps" VALUES('S4','fold','Folded the lid over to the left, the ribbons are short','','front',0.0,0,'apart','',3.0);
INSERT INTO "steps" VALUES('S5','take out','Pulled the memory card, that cuts the power','','front',0.0,1,'apart','',4.0);
INSERT INTO "steps" VALUES('S6','disconnect','Opened the lid of the display ribbon and slid it out','lifter','front',0.0,0,'apart','',5.0);
INSERT INTO "steps" VALUES('S7','disconnect','Key ribbon out, flip lock again','lifter','front',0.0,0,'apart','',6.0);
INSERT INTO "steps" VALUES('S8','take out','Lid off','','front',0.0,0,'apart','',7.0);
INSERT INTO "steps" VALUES('S9','peel','Peeled the lid seal out of its groove, renew','pick','front',0.0,0,'apart','',8.0);
INSERT INTO "steps" VALUES('S10','unscrew','Five PH00 off the shield plate, 2.5 mm','PH00','front',0.0,0,'apart','',9.0);
INSERT INTO "steps" VALUES('S11','unclip','Three clips along the shield edge','lifter','front',0.0,0,'apart','',10.0);
INSERT INTO "steps" VALUES('S12','take out','Shield plate away','','front',0.0,0,'apart','',11.0);
INSERT INTO "steps" VALUES('S13','disconnect','Both coax leads off the main board','lifter','front',0.0,0,'apart','',12.0);
INSERT INTO "steps" VALUES('S14','disconnect','Port ribbon open','lifter','front',0.0,0,'apart','',13.0);
INSERT INTO "steps" VALUES('S15','disconnect','Radio plug up','lifter','front',0.0,0,'apart','',14.0);
INSERT INTO "steps" VALUES('S16','disconnect','Sensor ribbon out','lifter','front',0.0,0,'apart','',15.0);
INSERT INTO "steps" VALUES('S17','disconnect','Battery plug up, reached from the side of the board','lifter','front',0.0,1,'apart','',16.0);
INSERT INTO "steps" VALUES('S18','unscrew','Nine PH00 out of the main board, four millimetres','PH00','front',0.0,0,'apart','',17.0);
INSERT INTO "steps" VALUES('S19','unscrew','One more PH00 upper left, this one is longer, five millimetres','PH00','front',0.0,0,'apart','',18.0);
INSERT INTO "steps" VALUES('S20','take out','Main board tipped up and out','','front',0.0,0,'apart','',19.0);
INSERT INTO "steps" VALUES('S21','peel','Thermal pad stays on the board, peeled it off','pick','front',0.0,0,'apart','',20.0);
INSERT INTO "steps" VALUES('S22','disconnect','Antenna lead off the radio board','lifter','front',0.0,0,'apart','',21.0);
INSERT INTO "steps" VALUES('S23','unscrew','Four T5 hold the radio board','T5','front',0.0,0,'apart','',22.0);
INSERT INTO "steps" VALUES('S24','take out','Radio board out','','front',0.0,0,'apart','',23.0);
INSERT INTO "steps" VALUES('S25','soften','Isopropanol under the battery, wait a minute','dropper','front',60.0,0,'apart','',24.0);
INSERT INTO "steps" VALUES('S26','pry','Pried the battery out with a film, slowly','film','front',0.0,0,'apart','',25.0);
INSERT INTO "steps" VALUES('S27','unscrew','Four T5 out of the battery tray','T5','front',0.0,0,'apart','',26.0);
INSERT INTO "steps" VALUES('S28','take out','Battery tray out','','front',0.0,0,'apart','',27.0);
INSERT INTO "steps" VALUES('S29','peel','Antenna pulled by its tab','','front',0.0,0,'apart','',28.0);
INSERT INTO "steps" VALUES('S30','unscrew','Three PH0 hold the port board','PH0','front',0.0,0,'apart','',29.0);
INSERT INTO "steps" VALUES('S31','take out','Port board out with its seal','','front',0.0,0,'apart','',30.0);
INSERT INTO "steps" VALUES('S32','peel','Port seal off, renew','pick','front',0.0,0,'apart','',31.0);
INSERT INTO "steps" VALUES('S33','unscrew','Six T10 through the core','T10','front',0.0,0,'apart','',32.0);
INSERT INTO "steps" VALUES('S34','take out','Core lifted out','','front',0.0,0,'apart','',33.0);
INSERT INTO "steps" VALUES('S35','unscrew','Four T10 inside the neck hold the sensor head, ten millimetres','T10','front',0.0,0,'apart','',34.0);
INSERT INTO "steps" VALUES('S36','take out','Sensor head off','','front',0.0,0,'apart','',35.0);
INSERT INTO "steps" VALUES('S37','unclip','Guard ring off, three clips','pick','front',0.0,0,'apart','',36.0);
INSERT INTO "steps" VALUES('S38','unscrew','Six IP8 around the collar, coated, single use','IP8','front',0.0,0,'apart','',37.0);
INSERT INTO "steps" VALUES('S39','take out','Collar off','','front',0.0,0,'apart','',38.0);
INSERT INTO "steps" VALUES('S40','peel','Collar seal out, renew','pick','front',0.0,0,'apart','',39.0);
INSERT INTO "steps" VALUES('S41','disconnect','Three plugs on the sensor board','lifter','front',0.0,0,'apart','',40.0);
INSERT INTO "steps" VALUES('S42','disconnect','Sensor board ribbon open','lifter','front',0.0,0,'apart','',41.0);
INSERT INTO "steps" VALUES('S43','unscrew','Three T6 and the sensor board is free','T6','front',0.0,0,'apart','',42.0);
INSERT INTO "steps" VALUES('S44','take out','Sensor board out','','front',0.0,0,'apart','',43.0);
INSERT INTO "steps" VALUES('S45','take out','Pushed the pressure cell out of its seat','push tool','front',0.0,0,'apart','',44.0);
INSERT INTO "steps" VALUES('S46','unscrew','Two T6, second sensor, twin version only','T6','front',0.0,0,'apart','',45.0);
INSERT INTO "steps" VALUES('S47','take out','Temperature probe drawn out','','front',0.0,0,'apart','',46.0);
INSERT INTO "steps" VALUES('S48','peel','Key flex off by its tab','','front',0.0,0,'apart','',47.0);
INSERT INTO "steps" VALUES('S49','take out','Key mat out','','front',0.0,0,'apart','',48.0);
INSERT INTO "steps" VALUES('S50','unscrew','Four PH00 black, three millimetres, off the display frame','PH00','front',0.0,0,'apart','',49.0);
INSERT INTO "steps" VALUES('S51','take out','Display frame out','','front',0.0,0,'apart','',50.0);
INSERT INTO "steps" VALUES('S52','unclip','Four clips and the display lifts out','lifter','front',0.0,0,'apart','',51.0);
INSERT INTO "steps" VALUES('S53','peel','Foam behind the display is scrap','pick','front',0.0,0,'apart','',52.0);
INSERT INTO "steps" VALUES('S54','soften','Warmed the window for three minutes','warm plate','front',180.0,0,'apart','',53.0);
INSERT INTO "steps" VALUES('S55','pry','Window pushed out from inside','film','front',0.0,0,'apart','',54.0);
INSERT INTO "steps" VALUES('S56','peel','Name plate off with a film','film','front',0.0,0,'apart','',55.0);
INSERT INTO "steps" VALUES('S57','peel','Four rubber feet with the spudger','lifter','back',0.0,0,'apart','',56.0);
INSERT INTO "steps" VALUES('S58','unscrew','Two IP5 on the hatch, six millimetres','IP5','back',0.0,0,'apart','',57.0);
INSERT INTO "steps" VALUES('S59','take out','Hatch off, the seal tears','','back',0.0,0,'apart','',58.0);
INSERT INTO "steps" VALUES('S60','disconnect','The battery plug can be reached through the hatch as well','lifter','back',0.0,1,'apart','',59.0);
INSERT INTO "steps" VALUES('S61','take out','Lug pin driven out','punch','back',0.0,0,'apart','',60.0);
INSERT INTO "steps" VALUES('S62','take out','Strap lug off','','back',0.0,0,'apart','',61.0);
CREATE TABLE steps_cautions (
	owner VARCHAR NOT NULL, 
	n INTEGER NOT NULL, 
	value VARCHAR, 
	PRIMARY KEY (owner, n)
);
INSERT INTO "steps_cautions" VALUES('S4',0,'The lid hangs on two ribbons: fold it, do not lift it away');
INSERT INTO "steps_cautions" VALUES('S18',0,'Nine of ten: the tenth, upper left, is a millimetre longer');
INSERT INTO "steps_cautions" VALUES('S25',0,'Solvent: no heat until it has dried off');
INSERT INTO "steps_cautions" VALUES('S26',0,'Never bend or pierce the cell; follow local codes and the maker''s service notes');
INSERT INTO "steps_cautions" VALUES('S54',0,'Warm plate: keep the solvent away');
CREATE TABLE steps_opens (
	owner VARCHAR NOT NULL, 
	n INTEGER NOT NULL, 
	value VARCHAR, 
	PRIMARY KEY (owner, n)
);
INSERT INTO "steps_opens" VALUES('S4',0,'P4');
CREATE TABLE steps_releases (
	owner VARCHAR NOT NULL, 
	n INTEGER NOT NULL, 
	value VARCHAR, 
	PRIMARY KEY (owner, n)
);
INSERT INTO "steps_releases" VALUES('S2',0,'J40');
INSERT INTO "steps_releases" VALUES('S3',0,'J4');
INSERT INTO "steps_releases" VALUES('S5',0,'J8');
INSERT INTO "steps_releases" VALUES('S6',0,'J5');
INSERT INTO "steps_releases" VALUES('S7',0,'J6');
INSERT INTO "steps_releases" VALUES('S9',0,'J7');
INSERT INTO "steps_releases" VALUES('S10',0,'J9');
INSERT INTO "steps_releases" VALUES('S11',0,'J10');
INSERT INTO "steps_releases" VALUES('S13',0,'J11');
INSERT INTO "steps_releases" VALUES('S14',0,'J12');
INSERT INTO "steps_releases" VALUES('S15',0,'J13');
INSERT INTO "steps_releases" VALUES('S16',0,'J14');
INSERT INTO "steps_releases" VALUES('S17',0,'J15');
INSERT INTO "steps_releases" VALUES('S18',0,'J16');
INSERT INTO "steps_releases" VALUES('S19',0,'J17');
INSERT INTO "steps_releases" VALUES('S21',0,'J44');
INSERT INTO "steps_releases" VALUES('S22',0,'J19');
INSERT INTO "steps_releases" VALUES('S23',0,'J18');
INSERT INTO "steps_releases" VALUES('S26',0,'J20');
INSERT INTO "steps_releases" VALUES('S27',0,'J22');
INSERT INTO "steps_releases" VALUES('S29',0,'J21');
INSERT INTO "steps_releases" VALUES('S30',0,'J23');
INSERT INTO "steps_releases" VALUES('S32',0,'J24');
INSERT INTO "steps_releases" VALUES('S33',0,'J25');
INSERT INTO "steps_releases" VALUES('S35',0,'J39');
INSERT INTO "steps_releases" VALUES('S37',0,'J43');
INSERT INTO "steps_releases" VALUES('S38',0,'J26');
INSERT INTO "steps_releases" VALUES('S40',0,'J27');
INSERT INTO "steps_releases" VALUES('S41',0,'J29');
INSERT INTO "steps_releases" VALUES('S41',1,'J30');
INSERT INTO "steps_releases" VALUES('S41',2,'J31');
INSERT INTO "steps_releases" VALUES('S42',0,'J42');
INSERT INTO "steps_releases" VALUES('S43',0,'J28');
INSERT INTO "steps_releases" VALUES('S45',0,'J32');
INSERT INTO "steps_releases" VALUES('S46',0,'J33');
INSERT INTO "steps_releases" VALUES('S48',0,'J37');
INSERT INTO "steps_releases" VALUES('S50',0,'J35');
INSERT INTO "steps_releases" VALUES('S52',0,'J36');
INSERT INTO "steps_releases" VALUES('S55',0,'J34');
INSERT INTO "steps_releases" VALUES('S56',0,'J38');
INSERT INTO "steps_releases" VALUES('S57',0,'J1');
INSERT INTO "steps_releases" VALUES('S58',0,'J2');
INSERT INTO "steps_releases" VALUES('S59',0,'J3');
INSERT INTO "steps_releases" VALUES('S60',0,'J15');
INSERT INTO "steps_releases" VALUES('S61',0,'J41');
CREATE TABLE steps_softens (
	owner VARCHAR NOT NULL, 
	n INTEGER NOT NULL, 
	value VARCHAR, 
	PRIMARY KEY (owner, n)
);
INSERT INTO "steps_softens" VALUES('S25',0,'J20');
INSERT INTO "steps_softens" VALUES('S54',0,'J34');
CREATE TABLE steps_takes_out (
	owner VARCHAR NOT NULL, 
	n INTEGER NOT NULL, 
	value VARCHAR, 
	PRIMARY KEY (owner, n)
);
INSERT INTO "steps_takes_out" VALUES('S2',0,'P52');
INSERT INTO "steps_takes_out" VALUES('S5',0,'P16');
INSERT INTO "steps_takes_out" VALUES('S8',0,'P4');
INSERT INTO "steps_takes_out" VALUES('S9',0,'P5');
INSERT INTO "steps_takes_out" VALUES('S12',0,'P17');
INSERT INTO "steps_takes_out" VALUES('S20',0,'P19');
INSERT INTO "steps_takes_out" VALUES('S21',0,'P25');
INSERT INTO "steps_takes_out" VALUES('S24',0,'P26');
INSERT INTO "steps_takes_out" VALUES('S26',0,'P29');
INSERT INTO "steps_takes_out" VALUES('S28',0,'P31');
INSERT INTO "steps_takes_out" VALUES('S29',0,'P28');
INSERT INTO "steps_takes_out" VALUES('S31',0,'P32');
INSERT INTO "steps_takes_out" VALUES('S32',0,'P34');
INSERT INTO "steps_takes_out" VALUES('S34',0,'P15');
INSERT INTO "steps_takes_out" VALUES('S36',0,'P38');
INSERT INTO "steps_takes_out" VALUES('S37',0,'P53');
INSERT INTO "steps_takes_out" VALUES('S39',0,'P39');
INSERT INTO "steps_takes_out" VALUES('S40',0,'P40');
INSERT INTO "steps_takes_out" VALUES('S44',0,'P41');
INSERT INTO "steps_takes_out" VALUES('S45',0,'P42');
INSERT INTO "steps_takes_out" VALUES('S46',0,'P45');
INSERT INTO "steps_takes_out" VALUES('S47',0,'P44');
INSERT INTO "steps_takes_out" VALUES('S48',0,'P11');
INSERT INTO "steps_takes_out" VALUES('S49',0,'P12');
INSERT INTO "steps_takes_out" VALUES('S51',0,'P9');
INSERT INTO "steps_takes_out" VALUES('S52',0,'P8');
INSERT INTO "steps_takes_out" VALUES('S53',0,'P10');
INSERT INTO "steps_takes_out" VALUES('S55',0,'P7');
INSERT INTO "steps_takes_out" VALUES('S56',0,'P13');
INSERT INTO "steps_takes_out" VALUES('S57',0,'P1');
INSERT INTO "steps_takes_out" VALUES('S59',0,'P2');
INSERT INTO "steps_takes_out" VALUES('S61',0,'P50');
INSERT INTO "steps_takes_out" VALUES('S62',0,'P49');
CREATE TABLE stretches (
	id VARCHAR NOT NULL, 
	"plan" VARCHAR, 
	name VARCHAR, 
	from_mm FLOAT, 
	to_mm FLOAT, 
	hold VARCHAR, 
	count INTEGER, 
	width_mm FLOAT, 
	angle_deg FLOAT, 
	depth_mm FLOAT, 
	joint VARCHAR, 
	note VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "stretches" VALUES('E1','O1','right side',76.7,126.1,'glue',NULL,2.0,45.0,3.0,'J34','',0.0);
INSERT INTO "stretches" VALUES('E2','O1','bottom side',126.1,207.5,'glue',NULL,1.5,60.0,3.0,'J34','',1.0);
INSERT INTO "stretches" VALUES('E3','O1','left side',207.5,257.0,'glue',NULL,1.5,45.0,5.0,'J34','',2.0);
INSERT INTO "stretches" VALUES('E4','O1','top side',257.0,76.7,'glue',NULL,1.5,60.0,2.0,'J34','',3.0);
INSERT INTO "stretches" VALUES('E5','O2','right side',65.2,103.6,'clips',1,NULL,60.0,2.0,'J36','',4.0);
INSERT INTO "stretches" VALUES('E6','O2','bottom side',103.6,173.8,'clips',2,NULL,60.0,2.0,'J36','',5.0);
INSERT INTO "stretches" VALUES('E7','O2','left side',173.8,212.2,'nothing',NULL,NULL,45.0,3.0,'','',6.0);
INSERT INTO "stretches" VALUES('E8','O2','top side',212.2,65.2,'clips',1,NULL,60.0,2.0,'J36','',7.0);
CREATE TABLE sums (
	id VARCHAR NOT NULL, 
	kind VARCHAR, 
	result VARCHAR, 
	about VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "sums" VALUES('U1','cell','11.8 Wh; the label''s 11.8 Wh agrees.','P29',0.0);
INSERT INTO "sums" VALUES('U2','tape','4.8 cm² of tape, 160 mm long in all.','J3',1.0);
CREATE TABLE sums_given (
	owner VARCHAR NOT NULL, 
	n INTEGER NOT NULL, 
	value VARCHAR, 
	PRIMARY KEY (owner, n)
);
INSERT INTO "sums_given" VALUES('U1',0,'charge = 3200 mAh');
INSERT INTO "sums_given" VALUES('U1',1,'nominal voltage = 3.7 V');
INSERT INTO "sums_given" VALUES('U1',2,'label''s energy = 11.8 Wh');
INSERT INTO "sums_given" VALUES('U2',0,'length = 160 mm');
INSERT INTO "sums_given" VALUES('U2',1,'width = 3 mm');
INSERT INTO "sums_given" VALUES('U2',2,'pieces = 1');
CREATE TABLE waits (
	id VARCHAR NOT NULL, 
	kind VARCHAR, 
	planned_s FLOAT, 
	took_s FLOAT, 
	step VARCHAR, 
	started VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "waits" VALUES('T1','solvent',60.0,64.0,'S25','2026-03-02T09:41:07',0.0);
CREATE TABLE warmups (
	id VARCHAR NOT NULL, 
	name VARCHAR, 
	heater VARCHAR, 
	heater_c FLOAT, 
	flux_w_m2 FLOAT, 
	coupling_w_m2k FLOAT, 
	loss_w_m2k FLOAT, 
	room_c FLOAT, 
	target_c FLOAT, 
	limit_c FLOAT, 
	minutes FLOAT, 
	joint VARCHAR, 
	position FLOAT, 
	PRIMARY KEY (id)
);
INSERT INTO "warmups" VALUES('W1','Window on the warm plate','plate',85.0,1500.0,100.0,10.0,22.0,62.0,70.0,20.0,'J34',0.0);
INSERT INTO "warmups" VALUES('W2','Battery through its tray','plate',75.0,1500.0,100.0,10.0,22.0,52.0,60.0,12.0,'J20',1.0);
CREATE INDEX ix_parts_position ON parts (position);
CREATE INDEX ix_joints_position ON joints (position);
CREATE INDEX ix_steps_position ON steps (position);
CREATE INDEX ix_facts_position ON facts (position);
CREATE INDEX ix_runs_position ON runs (position);
CREATE INDEX ix_findings_position ON findings (position);
CREATE INDEX ix_photos_position ON photos (position);
CREATE INDEX ix_callouts_position ON callouts (position);
CREATE INDEX ix_checks_position ON checks (position);
CREATE INDEX ix_edge_plans_position ON edge_plans (position);
CREATE INDEX ix_stretches_position ON stretches (position);
CREATE INDEX ix_keepouts_position ON keepouts (position);
CREATE INDEX ix_warmups_position ON warmups (position);
CREATE INDEX ix_layers_position ON layers (position);
CREATE INDEX ix_waits_position ON waits (position);
CREATE INDEX ix_sums_position ON sums (position);
COMMIT;
