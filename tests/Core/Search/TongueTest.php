<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Search;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Search\Tongue;

final class TongueTest extends TestCase
{
    #[DataProvider('passages')]
    public function testAPassageTellsItsLanguage(?string $language, string $text): void
    {
        self::assertSame($language, Tongue::of($text));
    }

    /** @return iterable<string, array{string|null, string}> */
    public static function passages(): iterable
    {
        yield 'Danish' => ['da', 'Fyrvogteren talte elleve knuste lygter efter stormen, og ingen på kajen havde bestilt de gule bøjer.'];
        yield 'Finnish' => ['fi',
            'Majakanvartija laski myrskyn jälkeen yksitoista rikkoutunutta lyhtyä eikä kukaan ollut tilannut poijuja.'];
        yield 'Hungarian' => ['hu', 'A világítótorony őre tizenegy törött lámpást számolt meg a vihar után.'];
        yield 'Romanian' => ['ro', 'Paznicul farului a numărat unsprezece felinare sparte după furtună și nimeni nu ceruse geamandurile.'];
        yield 'Indonesian' => ['id', 'Penjaga mercusuar menghitung sebelas lentera yang pecah setelah badai di pelabuhan.'];
        yield 'German' => ['de',
            'Der Leuchtturmwärter zählte nach dem Sturm elf zerbrochene Laternen, und niemand hatte die Bojen bestellt.'];
        yield 'Greek' => ['el', 'Ο φαροφύλακας μέτρησε έντεκα σπασμένα φανάρια'];
        yield 'none that is known here' => [null, 'kidu rosamba tele wixo parunde hilokta misa vorun kest palomi durg tewasi'];
        yield 'numbers' => [null, 'BSP 210 lot 44, 14204, 77-812, 2024-10-09, 3000 4000 5000 6000'];
        yield 'too short' => [null, 'elleve lygter'];
        yield 'rubbish' => [null, str_repeat("\xff\xfe\x00", 100)];
        yield 'nothing' => [null, ''];
    }
}
