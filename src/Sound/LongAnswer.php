<?php

namespace Pestle\App\Sound;

use Pestle\Core\Render\Asked;
use Pestle\Core\Render\TakesTooLong;
use Symfony\Component\HttpFoundation\StreamedResponse;

/**
 * An answer that takes a while. Meanwhile something is sent that means nothing, ten times a second: so it shows when nobody
 * waits for it any more, and the engine gives it up.
 */
final class LongAnswer
{
    private const LOOK_SECONDS = 0.1;

    /**
     * @param string                                         $nothing bytes that may stand before the answer any number of times
     * @param \Closure(array<string, mixed>, string): string $packed  makes what is sent of an answer and its sound
     */
    public static function of(Asked $asked, string $nothing, string $type, \Closure $packed): StreamedResponse
    {
        return new StreamedResponse(static function () use ($asked, $nothing, $packed): void {
            // What lies in buffers tells nothing.
            while (ob_get_level() > 0 && ob_end_flush()) {
            }
            try {
                while (null === $answer = $asked->within(self::LOOK_SECONDS)) {
                    echo $nothing;
                    // Here PHP ends the request when its other end was closed.
                    flush();
                }
            } catch (TakesTooLong) {
                // What was worked out stays, and who still wants it asks again: slow is not wrong.
                $answer = [['dropped' => true], ''];
            } catch (\RuntimeException $e) {
                $answer = [['error' => $e->getMessage().' Try again.'], ''];
            }
            echo $packed(...$answer);
        }, 200, ['Content-Type' => $type, 'Cache-Control' => 'no-store']);
    }
}
