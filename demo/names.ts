/** Made-up people: given and family names from many languages, put together at random. */
export const givenNames = (
  'Wren Tomi Deniz Ada Ines Malik Noor Yusuf Leila Ravi Priya Mei Jun Sora Hana Kofi Ama Zola Thabo Lindiwe Mateo Lucía Diego Sofía Joaquín Inés Aoife Niamh Cillian Saoirse Rhys Carys ' +
  'Owen Elin Bjørn Astrid Søren Freja Łukasz Zofia Wojciech Hanna Štěpán Eliška Matěj Žofie Ágnes Bence Zsófia Márton Ioana Ștefan Andrei Maria Elena Nikos Eleni Théo Zoé Chloé Étienne Anaïs ' +
  'Luca Giulia Marco Chiara João Inês Tiago Beatriz Emre Elif Can Zeynep Omar Fatima Amir Sara Dalia Samir Nadia Tariq Aisha Imran Sana Arjun Anika Dev Isha Kiran Lila Minh Linh An Thảo ' +
  'Kenji Yuki Ren Aiko Min Seo Jin Hye Tane Aroha Kai Moana Sione Leilani Ana Tevita Jasper Ivy Otis Hazel Felix Nora Hugo Ida Oscar Alma Elias Signe Anton Vera Edith Silas Maeve Rowan Juno Ezra Thea Jonah Esme ' +
  'Caleb Tess Miles Cora Levi June Asher Pearl Micah Ruth Abel Iris Reuben Lena Isaac Greta Simon Marta Victor Paula Daniel Judith Adam Clara Peter Helen Paul Agnes Martin Rosa'
).split(' ');

export const familyNames = (
  'Abara Anstruther Basak Adeyemi Okafor Mensah Boateng Nkosi Dlamini Moyo García Hernández Muñoz Peña Ibáñez Núñez O’Neill O’Brien Byrne Gallagher Pryce Llewellyn Vaughan Ødegård Sørensen Lindqvist Åkerman Håkansson ' +
  'Kowalczyk Żółkiewski Wiśniewska Łapiński Novák Dvořáček Šimůnek Říha Nagy Szőke Kőszegi Ionescu Țăranu Popescu Papadakis Georgiou Lefèvre Béranger Gagné Moreau Rossi Bianchi Ferraro Sousa Conceição Magalhães Yılmaz Şahin Öztürk Çelik ' +
  'Haddad Khoury Nasser Farouk Rahman Siddiqui Malik Sharma Iyer Banerjee Kapoor Nguyễn Trần Phạm Tanaka Mori Sato Fujita Kim Park Choi Ngata Tuala Fonoti Kealoha Marsh Holloway Penrose Tregear Ashdown Birkett Corrigan Dunmore Eastwick Fairley ' +
  'Gorringe Harkness Inskip Jessop Kellaway Langstaff Merriweather Netherby Orchard Pettigrew Quill Ravensworth Saltmarsh Thistlewood Underhill Varley Wainfleet Yardley Ambler Brightwell Cobham Dallimore Everdene Foxcroft Greenhalgh Hathersage ' +
  'Ivory Jolliffe Kettering Loxley Marchbank Northcott Oakhanger Pemberley Rushworth Starling Tideswell Upton Vickery Wetherby Larkspur Strand Skerry Haven Cove Reef Shoal Ness Holm Voe Firth Geo Stack Tangwick Sandvik Nordby Vestergaard Kjær ' +
  'Weiß Müller Schäfer Großkopf Böhm Jäger van-der-Meer de-Vries Janssen Peeters Verstraete Rosenthal Levin Cohen Petrov Ivanova Kovač Marić Đorđević Babić Hadžić Kask Tamm Kalniņš Ozoliņš Jankauskas Virtanen Mäkelä Nieminen'
)
  .split(' ')
  .map((name) => name.replaceAll('-', ' '));
