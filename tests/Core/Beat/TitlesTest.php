<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Song\Titles;
use PHPUnit\Framework\TestCase;

final class TitlesTest extends TestCase
{
    public function testManyBeatsHaveNamesOfTheirOwn(): void
    {
        foreach ([0, 7, 4711, 9999] as $seed) {
            $taken = [];
            for ($n = 0; $n < 150; ++$n) {
                $name = Titles::beat($taken, $seed);
                self::assertMatchesRegularExpression('/^[A-Z][a-z]+ [A-Z][a-z]+$/', $name);
                self::assertNotContains($name, $taken);
                $taken[] = $name;
            }
        }
        self::assertNotSame(Titles::beat([], 1), Titles::beat([], 2));
    }

    public function testSectionsAreNamedByTheUsualWordsThenByTheirSounds(): void
    {
        self::assertSame('First', Titles::section(['Opening', 'Break'], ['Tin snare']));
        $usual = ['Opening', 'First', 'Lifted', 'Break', 'Return', 'Turn', 'Ending'];
        self::assertSame('Tin snare alone', Titles::section($usual, ['Tin snare', 'Hum']));
        self::assertSame('Hum alone', Titles::section([...$usual, 'Tin snare alone'], ['Tin snare', 'Hum']));
        self::assertSame('Section 8', Titles::section($usual, []));
    }
}
