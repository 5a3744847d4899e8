/**
 * Words for children's passphrases: short, common, concrete, spelled as they sound where that can be had, none
 * that teases, frightens or is heard as another of the list. Put together for Sheaf; free to use with it.
 */
export const words: string[] = (
  'acorn actor album amber anchor angle ankle apple april apron arch arctic arrow artist aspen atlas attic autumn awning axle ' +
  'badge badger bagel bakery ball bamboo banana banjo barn barrel basil basket beach beacon beaver bench berry bicycle bike bird ' +
  'biscuit bishop blanket blimp block blossom blue board boat bobcat bonnet book border bottle boulder bowl box branch brass bread ' +
  'breeze brick bridge broom brother brush bubble bucket buckle bugle bunny bus butter button cabin cactus cake camel camera camp ' +
  'canal candle candy canoe canvas canyon cape carpet carrot cart castle cedar cello chalk charm cheese cherry chess chestnut chime ' +
  'circle circus clam clay clever cliff clock cloth cloud clover coach coast cobra cocoa coconut comet compass cookie copper coral corn ' +
  'cotton cousin coyote crab crane crayon cream creek cricket crop crown crystal cube cup curtain cushion cycle daisy dance dandy dawn ' +
  'deer delta denim desert desk diamond dinner dolphin domino donkey door dove dragon drawer dream drum duck eagle early earth easel ' +
  'east echo elbow elder elk elm engine entry ermine fabric falcon family farm feather fence fern ferry fiddle field finch finger fish flag ' +
  'flame flask fleet flock flour flower flute foam fog folder forest fork fossil fox frame friend frog frost fruit galaxy garden garlic gate ' +
  'gecko gentle giant ginger giraffe glad glass glider globe glove glue goat gold goose grape graph grass gravel green guitar gull ' +
  'hammer hammock hamster handle happy harbor harp harvest hat hawk hazel hedge helmet hero heron hill hobby holly honey hoop ' +
  'horizon horn horse hotel house husky igloo inch indigo ink insect iris island ivory ivy jacket jaguar jam jar jelly jersey jewel ' +
  'jigsaw jolly judge juggle juice jungle kayak kettle key kind king kite kitten kiwi koala ladder lady lake lamp lantern larch lark ' +
  'laser latch lava lawn leaf leather lemon lentil letter lettuce lilac lily lime linen lion lizard llama lobster locket lotus lucky ' +
  'lunch lynx magnet magpie maple marble march market marsh mast meadow medal melody melon mentor meter midday milk mill mint mirror ' +
  'mitten mixer model moment monkey moon moose morning mosaic moss motor mountain mouse muffin mug museum music mustard napkin narrow ' +
  'native nectar needle nest nickel noble noodle north notebook nugget nurse nut oak oasis oat ocean olive onion opal orange orbit ' +
  'orchard orchid otter oval owl oyster paddle paint palace palm panda panel paper parade parrot pasta patch path pattern peach peanut ' +
  'pear pebble pelican pencil penguin pepper piano picnic pilot pine pizza planet plant plaza plum pocket poem polar pond pony ' +
  'poplar poppy porch potato pottery prairie prism puffin pulley pumpkin puppet puppy purple puzzle quail quartz queen quick quiet quill ' +
  'quilt rabbit radio radish raft rain raisin ranch raven recipe reed ribbon rice ridge ring river road robin robot rocket rope rose ' +
  'ruby ruler saddle saffron sail salad salmon sand scarf school scooter season seed shadow shell ship shore shovel signal silver singer ' +
  'sister sketch sky sled slide smile snail snow soap soccer sofa solar song soup south spark sparrow spice spider spinach spiral spoon ' +
  'spring spruce square squid stable stamp star statue steam stone stork storm story stove straw stream string sugar summer sun sunny ' +
  'sunset swan sweater swift table tablet tailor tango tea teacher tempo temple tent tiger timber toast tomato tower trail train travel ' +
  'tree trophy trout truck trumpet tulip tunnel turtle twig uncle unicorn valley vanilla velvet village vine violet violin voyage wagon ' +
  'walnut walrus water wave west whale wheat wheel willow wind window winter wolf wonder wood wool wren yard yellow yogurt zebra zigzag zinc'
).split(' ');
