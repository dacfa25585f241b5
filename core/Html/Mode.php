<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Where the construction of the tree stands (HTML Living Standard, section 13.2.4.1).
 *
 * @internal
 */
enum Mode
{
    case Initial;
    case BeforeHtml;
    case BeforeHead;
    case InHead;
    case AfterHead;
    case InBody;
    case Text;
    case InTable;
    case InCaption;
    case InColumnGroup;
    case InTableBody;
    case InRow;
    case InCell;
    case InTemplate;
    case AfterBody;
    case InFrameset;
    case AfterFrameset;
}
