<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\ReverbSettings;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** Putting inserts into lines, and bands into equalizers. */
final class InsertChangesTest extends TestCase
{
    public function testBandsComeAndGoWithWhatMovedThem(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Bands'), [
            ['type' => 'add-insert', 'node' => 'drums', 'kind' => 'equalizer'],
            ['type' => 'set-bands', 'node' => 'drums', 'insert' => 'i2', 'count' => 8],
            ['type' => 'set-movement', 'path' => 'mixer/drums/inserts/i2/bands/8/hz', 'points' => [[0, 500]]],
            ['type' => 'set-movement', 'path' => 'mixer/drums/inserts/i2/bands/2/hz', 'points' => [[0, 100]]],
        ]);
        $insert = $beat->line('drums')->insert('i2');
        self::assertInstanceOf(EqualizerSettings::class, $insert);
        self::assertCount(8, $insert->bands);
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
        $fewer = RandomBeats::changed($beat, [['type' => 'set-bands', 'node' => 'drums', 'insert' => 'i2', 'count' => 5]]);
        self::assertSame(['mixer/drums/inserts/i2/bands/2/hz'], array_column($fewer->movements->all, 'path'));
        foreach ([['insert' => 'i2', 'count' => 9], ['insert' => 'i1', 'count' => 3]] as $wrong) {
            try {
                RandomBeats::changed($beat, [['type' => 'set-bands', 'node' => 'drums', ...$wrong]]);
                self::fail('It was taken.');
            } catch (InvalidChange $e) {
                self::assertMatchesRegularExpression('/count must be|Only an equalizer has bands/', $e->getMessage());
            }
        }
    }

    /** On a return a room is heard alone, wherever it comes from; on a channel beside the sound. */
    public function testRoomsOnReturnsAreHeardAlone(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Rooms'), [
            ['type' => 'add-node', 'kind' => 'return', 'id' => 'r1', 'name' => 'Room'],
            ['type' => 'add-insert', 'node' => 'drums', 'kind' => 'reverb'],
            ['type' => 'add-insert', 'node' => 'r1', 'kind' => 'reverb'],
            ['type' => 'copy-inserts', 'node' => 'r1', 'chain' => 'hall'],
            ['type' => 'copy-inserts', 'node' => 'r1', 'from' => 'drums', 'insert' => 'i2'],
        ]);
        $mixes = static fn (string $line): array => array_values(array_filter(array_map(static fn ($i): ?float => $i instanceof ReverbSettings ? $i->mix : null, $beat->line($line)->inserts), is_float(...)));
        self::assertSame([20.0], $mixes('drums'));
        self::assertSame([100.0, 100.0, 100.0], $mixes('r1'));
        self::assertSame(['i1', 'i2', 'i3'], array_map(static fn ($i): string => $i->id(), $beat->line('r1')->inserts));
    }
}
