<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\WebSocket;

enum MessageKind
{
    case Text;
    case Binary;
    case Close;
}
