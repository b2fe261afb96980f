<?php

namespace Pestle\Tests\Browser;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Tests\Core\Sounds;

/** Journeys through Gather and Chop, with recordings of their own. */
abstract class ChopCase extends PageCase
{
    protected const WAVE = "document.querySelector('pestle-wave')";
    protected const SAVED = "document.querySelector('#saved').textContent === 'Saved'";
    protected const UNDO = "document.querySelector('[data-undo]').textContent";

    protected function newBeat(): void
    {
        $this->open('/');
        $this->click('.list-page .btn.main');
        $this->wait("location.pathname.endsWith('/gather')");
    }

    protected function attribute(string $name): string
    {
        $value = $this->script('return '.self::WAVE.".dataset.$name");

        return \is_string($value) ? $value : '';
    }

    protected function value(string $selector): string
    {
        $value = $this->script("return document.querySelector('$selector').value");

        return \is_string($value) ? $value : '';
    }

    /** Two bars of drums, so many times over. */
    protected static function loopFile(float $bpm, int $times = 1): string
    {
        $kit = new DrumVoices(44100);
        $mix = array_fill(0, (int) round(2 * 240 / $bpm * 44100), 0.0);
        for ($i = 0; $i < 16; ++$i) {
            foreach ([$kit->kick(), $kit->shaker(), $kit->snare(), $kit->shaker()][$i % 4]->left as $n => $x) {
                $at = (int) round($i * 30 / $bpm * 44100) + $n;
                if (isset($mix[$at])) {
                    $mix[$at] += 0.5 * $x;
                }
            }
        }
        $path = Sounds::folder().'/lantern loop.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int16);
        for ($i = 0; $i < $times; ++$i) {
            $writer->write(new StereoBlock($mix, $mix));
        }
        $writer->close();

        return $path;
    }
}
