<?php

namespace Pestle\App\Sound;

use Pestle\App\Controller\SoundController;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Render\Rendered;
use Symfony\Component\HttpFoundation\Response;

/** A stretch of a recording for listening to. */
final class Stretch
{
    private const FRAMES = 8192;

    /** @param array<string, mixed> $says what is told beside rate and length */
    public static function answer(AudioSource $source, int $from, int $count, array $says = []): Response
    {
        $sound = '';
        for ($at = 0; $at < $count; $at += self::FRAMES) {
            $n = min(self::FRAMES, $count - $at);
            $packed = Rendered::of($source->read($from + $at, $n), $n, [])->packed();
            $sound .= '' === $packed ? str_repeat("\0", 8 * $n) : $packed;
        }

        return SoundController::pack(['rate' => $source->sampleRate(), 'frames' => $count] + $says, $sound);
    }
}
