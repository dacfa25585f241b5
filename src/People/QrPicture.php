<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\Process\Exception\ExceptionInterface;
use Symfony\Component\Process\Process;

/** A text as a picture for a telephone's camera (ISO/IEC 18004), drawn by Debian's `qrencode`. */
final class QrPicture
{
    /** @return string|null SVG as a data URL; null where the program is missing: then the letters have to do */
    public function of(#[\SensitiveParameter] string $text): ?string
    {
        // By its input: what stands in a command's words is seen by every process of the machine.
        $process = new Process(['qrencode', '--type=SVG', '--level=M', '--margin=2', '--output=-']);
        try {
            $process->setInput($text)->setTimeout(10)->run();
        } catch (ExceptionInterface) {
            return null;
        }

        return $process->isSuccessful() ? 'data:image/svg+xml;base64,'.base64_encode($process->getOutput()) : null;
    }
}
