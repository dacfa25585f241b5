<?php

declare(strict_types=1);

namespace Ypomna\App\People\Message;

use Ypomna\App\People\Value\TakenMail;
use Ypomna\App\Shared\Queue\QueuedMessage;

/** What came by mail is under way: its sender is told what came of it. */
final readonly class AnswerMail implements QueuedMessage
{
    /**
     * @param string $to the sender's address
     * @param string $id of the message, as its field has it; '' if it has none
     * @param string $taken what came with it: {@see TakenMail::toText()}
     * @param int $since when it was taken in, Unix time
     */
    public function __construct(public string $to, public string $subject, public string $id, public string $taken, public int $since)
    {
    }
}
